import { request as rawRequest } from 'node:http';
import { expect, test } from './visit';

// What a reviewer checks of a server, by the numbers of OWASP ASVS 4.0.3 (from memory).

interface Answer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: string;
}

/** One request as it is written, with nothing tidied on the way. */
function ask(
  base: string | undefined,
  path: string,
  options: { method?: string; headers?: Record<string, string>; body?: string } = {},
): Promise<Answer> {
  const { port } = new URL(base!);
  const { method = 'GET', headers = {}, body } = options;
  return new Promise((resolve, reject) => {
    const asked = rawRequest(
      { host: '127.0.0.1', port, path, method, headers: { Host: `localhost:${port}`, ...headers } },
      (response) => {
        const chunks: Buffer[] = [];
        response.on('data', (chunk: Buffer) => chunks.push(chunk));
        response.on('end', () =>
          resolve({
            status: response.statusCode ?? 0,
            headers: response.headers,
            body: Buffer.concat(chunks).toString('utf8'),
          }),
        );
      },
    );
    asked.on('error', reject);
    asked.end(body);
  });
}

const PATHS: readonly (readonly [string, number, Record<string, string>?])[] = [
  ['/', 200],
  ['/job/demo/sources', 200],
  ['/licences', 200],
  ['/nothing', 404],
  ['/_next/static/nothing.js', 404],
  ['/job/demo/', 308],
  ['//evil.example/', 308],
  ['/job/%E0%A4%A/sources', 400],
  ['/job/%25E2/sources', 200],
  ['/job/%00/sources', 200],
  [`/${'a'.repeat(3000)}`, 414],
  ['/print-fonts/../../package.json', 404],
  ['/print-fonts/%2e%2e/%2e%2e/package.json', 404],
  ['/', 421, { Host: 'evil.example' }],
  ['/', 200, { Host: '127.0.0.1:4702' }],
];

test('every answer says what it may be used for, and none tells more than it must (14.3.3, 14.4.3–14.4.7)', async ({
  baseURL,
}) => {
  for (const [path, status, headers] of PATHS) {
    const answer = await ask(baseURL, path, headers ? { headers } : {});
    const of = `${path} ${JSON.stringify(headers ?? {})}`;
    expect(answer.status, of).toBe(status);
    expect(answer.headers['x-content-type-options'], of).toBe('nosniff');
    expect(answer.headers['referrer-policy'], of).toBe('no-referrer');
    expect(answer.headers['cross-origin-opener-policy'], of).toBe('same-origin');
    expect(answer.headers['cross-origin-resource-policy'], of).toBe('same-origin');
    const policy = String(answer.headers['content-security-policy']);
    expect(policy, of).toMatch(/default-src '(self|none)'/);
    expect(policy, of).toContain("frame-ancestors 'none'");
    expect(policy, of).not.toMatch(/unsafe-eval'(?<!wasm-unsafe-eval')|https?:|\*/);
    expect(answer.headers['x-powered-by'], of).toBeUndefined();
    expect(answer.headers['access-control-allow-origin'], of).toBeUndefined();
    // No stack, no path of this machine (7.4.1).
    expect(answer.body, of).not.toMatch(/\bat .*\.m?js:\d+|node_modules\//);
    const { location } = answer.headers;
    if (location) expect(location, of).toMatch(/^\/(?!\/)/);
  }
});

test('nothing is taken in, from nowhere (4.2.2, 13.2.1, 14.5.1)', async ({ baseURL }) => {
  const foreign = { Origin: 'https://evil.example', 'Content-Type': 'text/plain' };
  for (const method of ['POST', 'PUT', 'DELETE', 'PATCH', 'OPTIONS', 'TRACE'])
    for (const path of ['/', '/pdf', '/job/demo/sources', '/_next/image?url=%2Ficon.svg&w=64&q=75']) {
      const answer = await ask(baseURL, path, { method, headers: foreign });
      expect([method, path, answer.status]).toEqual([method, path, 405]);
      expect(answer.headers.allow).toBe('GET, HEAD');
      expect(answer.headers['access-control-allow-origin']).toBeUndefined();
    }
  const action = await ask(baseURL, '/', { method: 'POST', headers: { 'Next-Action': 'a' }, body: '[]' });
  expect(action.status).toBe(405);
});

test('pictures are not fetched for anybody (5.2.6, 12.6.1)', async ({ baseURL }) => {
  for (const url of ['http://localhost:1/x.png', '//evil.example/x.png', '/etc/hosts', 'file:///etc/hosts']) {
    const answer = await ask(baseURL, `/_next/image?url=${encodeURIComponent(url)}&w=64&q=75`);
    expect([url, answer.status >= 400 && answer.status < 500]).toEqual([url, true]);
    expect(answer.body).not.toContain('localhost\t');
  }
});
