import { fileURLToPath } from 'node:url';
import { isMainThread } from 'node:worker_threads';
import { serveBatch } from './batch/crew';
import { runCommand } from './commands';

if (isMainThread) process.exitCode = await runCommand(process.argv.slice(2), fileURLToPath(import.meta.url));
else serveBatch();
