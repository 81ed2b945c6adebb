/** Thrown for bytes that are no source of their kind at all; the message is one sentence for people. */
export class BadSourceError extends Error {
  override name = 'BadSourceError';
}
