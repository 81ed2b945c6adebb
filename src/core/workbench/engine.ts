/**
 * The build that works things out. What was kept by another one is worked out
 * anew; set when the application is built (next.config.ts).
 */
export const ENGINE: string = process.env.DRAGOMAN_ENGINE ?? 'unbuilt';
