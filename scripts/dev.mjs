// The application for those who work on it: pages and workers are made anew as their files change.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { root } from './tools.mjs';

await import('./assets.mjs');
const start = (...args) =>
  spawn(process.execPath, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  });
const workers = start(join(root, 'scripts/workers.mjs'), '--watch');
const pages = start(join(root, 'node_modules/next/dist/bin/next'), 'dev', '-H', '127.0.0.1');
pages.on('exit', (code) => {
  workers.kill();
  process.exit(code ?? 0);
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => pages.kill(signal));
