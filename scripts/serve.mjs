// Starts the built application on loopback; PORT sets the port.
import { createServer } from 'node:http';
import next from 'next';
import { root } from './tools.mjs';

const HOST = '127.0.0.1';
const port = Number(process.env.PORT ?? '4700');

/**
 * What every answer says, whoever gives it (OWASP Secure Headers Project). A page says in more detail what it may
 * load (`src/proxy.ts`); whatever is no page may load nothing.
 */
const HEADERS = {
  'Content-Security-Policy':
    "default-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'",
  'X-Content-Type-Options': 'nosniff',
  'X-Frame-Options': 'DENY',
  'Referrer-Policy': 'no-referrer',
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'Permissions-Policy': 'camera=(), geolocation=(), microphone=(), payment=(), usb=()',
};

/** The application takes nothing in: all that people have stays in their browser. */
const METHODS = new Set(['GET', 'HEAD']);
const LONGEST_URL = 2000;
/** Milliseconds. */
const MOST_FOR_HEADERS = 10_000;
const MOST_FOR_REQUEST = 30_000;
const MOST_CONNECTIONS = 500;

/** Why a request is not looked at; null where it is. */
function refusal({ method, url = '' }) {
  if (!METHODS.has(method)) return [405, 'Nothing is sent to this address.'];
  if (url.length > LONGEST_URL) return [414, 'This address is too long.'];
  try {
    decodeURIComponent(url.split('?')[0]);
    return null;
  } catch {
    return [400, 'This is not an address of Dragoman.'];
  }
}

const app = next({ dev: false, dir: root, hostname: HOST, port });
await app.prepare();
const handle = app.getRequestHandler();

const server = createServer((request, response) => {
  for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
  const refused = refusal(request);
  if (!refused) return void handle(request, response);
  const [status, why] = refused;
  const allow = status === 405 ? { Allow: 'GET, HEAD' } : {};
  response.writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', Connection: 'close', ...allow });
  response.end(why);
});
server.headersTimeout = MOST_FOR_HEADERS;
server.requestTimeout = MOST_FOR_REQUEST;
server.maxConnections = MOST_CONNECTIONS;
server.listen(port, HOST);
server.on('error', (error) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${port} is in use: set PORT to another.` : error.message);
  process.exit(1);
});

for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
