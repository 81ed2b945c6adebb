/** An error whose message is for people; the command ends with exit code 2. */
export class UsageError extends Error {}
