import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';

/**
 * Checks a message at the worker's door.
 * @throws TypeError naming the first thing that is wrong
 */
export function checkMessage<T extends object>(type: new () => T, data: unknown): T {
  const message = plainToInstance(type, data);
  if (typeof message !== 'object' || message === null) throw new TypeError('The message is empty.');
  const [error] = validateSync(message, { whitelist: true });
  if (error) throw new TypeError(Object.values(error.constraints ?? {})[0] ?? `${error.property} is wrong.`);
  return message;
}
