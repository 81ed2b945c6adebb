import { EMPTY_BRIEF } from './brief';
import { KINDS } from './kinds';

const HEAD = `# The brief

A brief holds all decisions about a job as JSON:

\`\`\`json
{
  "format": "dragoman-brief",
  "version": ${EMPTY_BRIEF.version},
  "directives": [
    { "kind": "leave-out", "strand": "1/t14c12", "out": true },
    { "kind": "name", "strand": "1/t2c1", "name": "Flute solo" },
    { "kind": "clock", "firstBar": 101 }
  ]
}
\`\`\`

Directives hold in order; a later one about the same thing wins. Strands are
named \`<source>/t<track>c<channel>\`, all from 1, as \`inspect\` prints them; a
file by itself is source 1. Notes add the index of their note-on in the track:
\`1/t2c1/17\`. What no directive decides is inferred.

`;

const FOOT = `
Cleaning (from \`split\` to \`velocities\`, \`kit\`, \`channel\`, \`clock-event\`,
\`silence\`) comes before everything else: the score, playback and hand-overs all
start from the cleaned performance. A directive without \`strand\` holds for all
strands that have none of their own.

A brief with an unknown kind, field or instrument, or with a field that is
missing, null where nothing is taken back, or beyond its bounds, is refused with
the number and kind of the directive and the field. Decisions that cannot be
followed on a source (a meter that would make more than 10,000 bars of it, a note
placed after its end) are said, and the others hold.

Briefs of version 1 named strands and notes without their source; they are read
as decisions about source 1.

This page is made of the directives themselves by \`npm run docs\`.
`;

/** The page that tells what a brief may hold (docs/brief.md), made of the kinds themselves. */
export function briefDocument(): string {
  const rows = Object.entries(KINDS).map(
    ([name, { doc, scope }]) =>
      `| \`${name}\` | ${scope === 'job' ? 'job' : 'strand'} | ${doc.fields} | ${doc.meaning} |`,
  );
  return `${HEAD}| kind | about | fields | meaning |\n|---|---|---|---|\n${rows.join('\n')}\n${FOOT}`;
}
