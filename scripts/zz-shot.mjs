// node shot.mjs OUT PATH STEPS-FILE? : picture of a demo job
import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';
const [out, script, width = '1280', height = '800', dark] = process.argv.slice(2);
const args = ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'];
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args });
const ctx = await b.newContext({ viewport: { width: +width, height: +height }, reducedMotion: 'reduce', colorScheme: dark ? 'dark' : 'light' });
const page = await ctx.newPage();
page.on('pageerror', (e) => console.log('ERR', e.message));
const base = 'http://localhost:4700';
const shot = (name = out) => page.screenshot({ path: name });
const run = new Function('page', 'base', 'shot', `return (async () => { ${readFileSync(script, 'utf8')} })()`);
await run(page, base, shot);
await b.close();
