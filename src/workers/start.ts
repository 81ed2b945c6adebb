/**
 * The first script of a job's page: starts its worker while the other scripts of the page are still being read, by
 * which time it is ready. It has no imports, so that it can be run as it comes; `client.ts` takes the worker over.
 */
(() => {
  const { currentScript } = document;
  // Where the client is there already, it starts what it needs.
  if (globalThis.coreAhead !== undefined || !(currentScript instanceof HTMLScriptElement)) return;
  const worker = new Worker(new URL('core.js', currentScript.src), { type: 'module' });
  // Whoever starts the next one is told why.
  worker.addEventListener('error', () => {
    globalThis.coreAhead = null;
  });
  globalThis.coreAhead = worker;
})();
