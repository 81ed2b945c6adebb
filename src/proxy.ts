import { type NextRequest, NextResponse } from 'next/server';

/** The one name under which the page is shown: jobs are kept by name, and two names would be two shelves. */
const NAME = 'localhost';
const OTHER_NAMES: ReadonlySet<string> = new Set(['127.0.0.1', '[::1]']);

/** The header by which pages learn the word under which they may load scripts. */
export const NONCE = 'x-nonce';

/** What the page may load and do: its own files only. Development evaluates code; a build does not. */
function policy(nonce: string): string {
  const evaluates = process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : '';
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'${evaluates}`,
    // The component library puts its styles into the page as it goes.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    // A recording that somebody attached is played from the browser's own shelf.
    "media-src 'self' blob:",
    "connect-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** Says where the page is, for whoever is not sent there. */
const page = (there: string): string =>
  `<!doctype html><title>Dragoman</title><p>Dragoman is at <a href="${encodeURI(there)}">${NAME}</a>.</p>`;

/** Answers one host name, sends its other names there, and says what the page may load. */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get('host') ?? '';
  const [, name = host, port = ''] = /^(.*?)(:\d+)?$/.exec(host) ?? [];
  if (OTHER_NAMES.has(name)) {
    const { pathname, search } = request.nextUrl;
    const there = `http://${NAME}${port}${pathname}${search}`;
    // A plain redirect would be shortened to its path, since the framework takes both names for one.
    return new NextResponse(page(there), {
      status: 200,
      headers: { 'Content-Type': 'text/html', Refresh: `0;url=${there}` },
    });
  }
  if (name !== NAME) return new NextResponse('This host is not answered here.', { status: 421 });
  const nonce = btoa(crypto.randomUUID());
  const headers = new Headers(request.headers);
  headers.set('Content-Security-Policy', policy(nonce));
  headers.set(NONCE, nonce);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('Content-Security-Policy', policy(nonce));
  return response;
}
