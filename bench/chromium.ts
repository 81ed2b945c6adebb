import { spawn } from 'node:child_process';
import { chromium } from '@playwright/test';
import { CHROMIUM_ARGUMENTS } from '../scripts/tools.mjs';

const PORT = '4703';

/** Serves the built application on loopback and starts Chromium beside it; `close` ends both. */
export async function startPage() {
  const address = `http://127.0.0.1:${PORT}`;
  const server = spawn(process.execPath, ['scripts/serve.mjs'], {
    env: { ...process.env, PORT },
    stdio: 'ignore',
  });
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: CHROMIUM_ARGUMENTS,
  });
  for (let attempt = 0; attempt < 50; attempt++) {
    const isUp = await fetch(address).then(
      (reply) => reply.ok,
      () => false,
    );
    if (isUp) break;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  const close = async () => {
    await browser.close();
    server.kill('SIGTERM');
  };
  return { address, browser, close };
}
