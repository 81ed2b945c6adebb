import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Link from 'next/link';

/** What sounds, draws and letters the page: others' work, named with its terms. */
const WORKS = [
  { name: 'verovio', does: 'engraves the score', terms: 'LGPL-3.0-or-later', text: null },
  { name: 'spessasynth_core', does: 'plays it', terms: 'Apache-2.0', text: 'LICENSE' },
  { name: 'spessasynth_lib', does: 'plays it in the page', terms: 'Apache-2.0', text: 'LICENSE' },
  { name: 'pdfkit', does: 'makes PDF', terms: 'MIT', text: 'LICENSE' },
  { name: 'svg-to-pdfkit', does: 'draws the music into it', terms: 'MIT', text: 'LICENSE' },
  {
    name: '@fontsource/noto-music',
    does: 'letters flats and sharps in it',
    terms: 'OFL-1.1',
    text: 'LICENSE',
  },
  { name: '@fontsource/tinos', does: 'letters the score', terms: 'Apache-2.0', text: 'LICENSE' },
  { name: '@fontsource-variable/inter', does: 'letters the page', terms: 'OFL-1.1', text: 'LICENSE' },
] as const;

const read = (name: string, file: string): string =>
  readFileSync(join(process.cwd(), 'node_modules', name, file), 'utf8');

interface Package {
  version: string;
  license?: string;
  homepage?: string;
}

export default function Licences() {
  return (
    <main className="plain-page">
      <h1>Licences</h1>
      <p>
        Dragoman is free software under the MIT licence. It stands on others’ work; what draws and sounds is
        named here with its terms, used unchanged as packages. <Link href="/">To the jobs</Link>
      </p>
      {WORKS.map(({ name, does, terms, text }) => {
        const { version, license }: Package = JSON.parse(read(name, 'package.json'));
        return (
          <section key={name}>
            <h2>
              {name} {version}
            </h2>
            <p>
              {does}, under {license ?? terms}.
              {text === null &&
                ' Its own source and the texts of the LGPL and GPL come with the package; you may replace the engraver by a changed one of the same interface.'}
            </p>
            {text && (
              <details>
                <summary>The licence in full</summary>
                <pre>{read(name, text)}</pre>
              </details>
            )}
          </section>
        );
      })}
    </main>
  );
}
