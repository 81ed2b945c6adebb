/** Lets the page answer before what follows: the next task of the browser. */
export const nextTask = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));
