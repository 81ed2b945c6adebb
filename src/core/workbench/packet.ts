import Papa from 'papaparse';
import { endingOf, plainName, withoutEnding } from '../basics/file-names';
import type { Steps } from '../basics/steps';
import { counted } from '../basics/words';
import { plansOf } from '../cast/written';
import { soundingOf } from '../clean/sounding';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { deliverMidi, isZip } from '../deliver';
import { barTable, barTableCsv, clockTime } from '../deliver/bar-table';
import { writtenScore } from '../deliver/folded';
import type { PacketChoice, PacketExtra } from '../deliver/packet-choice';
import { type DeliveredFile, deliverParts, zipOf } from '../deliver/parts';
import { deliverScore } from '../deliver/score';
import { secondsAt } from '../model/clock';
import { CHECKS } from '../proof/finding';
import type { GoingOut } from '../proof/going-out';
import { goingOutOf, type Proof, proofOf } from './proof';
import type { Written } from './workbench';

/** What a packet says of itself. */
interface Manifest {
  format: 'dragoman-packet';
  version: 1;
  title: string;
  bars: number;
  duration: string;
  parts: string[];
  files: { path: string; bytes: number }[];
  agreement: Proof['agreement'];
  readBack: Pick<GoingOut, 'form' | 'agree' | 'differ'>[];
  /** What still wants a look, by check. */
  open: Record<string, number>;
  /** What was looked at and is meant. */
  meant: number;
}

/**
 * A delivery as one zip whose names sort as they are read, with a manifest that says what is
 * in it, what was checked and what is open: nothing in it can contradict anything else, as
 * all of it is made of one state.
 *
 * @param name of the folder that it unpacks to
 * @param extras pages and sound of the same state, made elsewhere
 */
export function* packetOf(
  written: Written,
  choice: PacketChoice,
  name: string,
  extras: readonly PacketExtra[] = [],
): Steps<Uint8Array> {
  const { desk, transcription } = written;
  const score = writtenScore(transcription);
  const files: DeliveredFile[] = [];
  const text = new TextEncoder();
  if (choice.score)
    files.push({ path: `1 Score.${choice.format}`, bytes: deliverScore(desk, score, choice.format) });
  yield;
  if (choice.parts)
    for (const { path, bytes } of deliverParts(desk, score, choice.format))
      files.push({ path: `2 Parts/${path}`, bytes });
  yield;
  // As it is handed over: in the form, with the click and the bars before it that were decided.
  const { handOver } = desk.decisions;
  if (choice.midiPlayed)
    files.push({
      path: `3 MIDI ${midiName(handOver)}.${isZip(handOver) ? 'zip' : 'mid'}`,
      bytes: deliverMidi(desk, handOver, transcription),
    });
  if (choice.midiWritten) {
    const { files: _, ...one } = handOver;
    const onPage: HandOverChoice = {
      ...one,
      form: handOver.form === 'full' ? 'full' : 'plain',
      times: 'written',
      strength: 100,
    };
    files.push({ path: '4 MIDI as written.mid', bytes: deliverMidi(desk, onPage, transcription) });
  }
  yield;
  if (choice.bars) {
    const plans = plansOf(desk.performance, desk.decisions, desk.written?.score.parts ?? null);
    files.push({
      path: '5 Bar table.csv',
      bytes: text.encode(
        barTableCsv(
          barTable(soundingOf(desk, desk.performance), choice.rate, choice.start, plans),
          choice.rate,
        ),
      ),
    });
  }
  const proof = yield* proofOf(written);
  const outward = yield* goingOutOf(written);
  if (choice.proof) files.push({ path: '6 Proof.csv', bytes: text.encode(proofSheet(written, proof)) });
  if (choice.brief)
    files.push({ path: '7 Brief.json', bytes: text.encode(`${JSON.stringify(desk.brief, null, 1)}\n`) });
  for (const extra of extras) files.push({ path: pathOf(extra), bytes: extra.bytes });
  files.sort((a, b) => collate(a.path, b.path));
  const manifest = manifestOf(written, proof, outward, files);
  files.push({ path: 'Manifest.json', bytes: text.encode(`${JSON.stringify(manifest, null, 1)}\n`) });
  files.push({ path: 'Read me.txt', bytes: text.encode(readMe(manifest)) });
  const folder = plainName(name) || 'Packet';
  return zipOf(files.map(({ path, bytes }) => ({ path: `${folder}/${path}`, bytes })));
}

/** What a hand-over is called among the files of a packet. */
function midiName({ form, times = 'played' }: HandOverChoice): string {
  if (form === 'clock' || form === 'loops') return form;
  return { played: 'as played', written: 'on the page', places: 'on the grid' }[times];
}

/** Where pages and sound go. */
function pathOf({ kind, name }: PacketExtra): string {
  switch (kind) {
    case 'score-pdf':
      return '1 Score.pdf';
    case 'part-pdf':
      return `2 Parts/${plainName(name)}.pdf`;
    case 'recording':
      return `8 Recording${endingOf(name)}`;
    case 'stem':
      return `8 Stems/${plainName(withoutEnding(name))}${endingOf(name)}`;
    case 'rendered':
      return '9 Rendered.wav';
  }
}

const { compare: collate } = new Intl.Collator('en', { numeric: true });

function manifestOf(
  { desk, transcription }: Written,
  proof: Proof,
  outward: readonly GoingOut[],
  files: readonly DeliveredFile[],
): Manifest {
  const { score } = transcription;
  const { meant } = desk.decisions;
  const open: Record<string, number> = {};
  for (const { check, id, weight } of proof.findings)
    if (weight !== 'remark' && !meant.has(id)) open[CHECKS[check]] = (open[CHECKS[check]] ?? 0) + 1;
  return {
    format: 'dragoman-packet',
    version: 1,
    title: score.title,
    bars: score.bars.length,
    duration: clockTime(secondsAt(desk.performance.clock, desk.performance.end)),
    parts: score.parts.map(({ name }) => name),
    files: files.map(({ path, bytes }) => ({ path, bytes: bytes.length })),
    agreement: proof.agreement,
    readBack: outward.map(({ form, agree, differ }) => ({ form, agree, differ })),
    open,
    meant: proof.findings.filter(({ id }) => meant.has(id)).length,
  };
}

/** The manifest for people. */
function readMe({ title, bars, duration, parts, agreement, readBack, open, meant }: Manifest): string {
  const { notes, agree, meant: decided } = agreement;
  const left = Object.entries(open);
  return [
    title,
    `${counted(bars, 'bar')}, ${duration}, ${counted(parts.length, 'part')}: ${parts.join(', ')}.`,
    '',
    `${agree.toLocaleString('en')} of ${counted(notes, 'note')} of the source stand in the score as they were played, ${decided.toLocaleString('en')} otherwise by decision, ${(notes - agree - decided).toLocaleString('en')} unexplained.`,
    ...readBack.map(
      ({ form, agree: same, differ }) =>
        `${form}, read back: ${counted(same, 'note')} agree, ${differ} differ.`,
    ),
    left.length === 0
      ? 'No point is open.'
      : `Open: ${left.map(([check, count]) => `${check} ${count}`).join(', ')}.`,
    ...(meant > 0 ? [`${counted(meant, 'finding')} meant as it stands.`] : []),
    '',
  ].join('\n');
}

/** The proof as a table: RFC 4180, one row a finding. */
function proofSheet({ desk, transcription }: Written, { findings }: Proof): string {
  const { bars, parts } = transcription.score;
  return Papa.unparse(
    findings.map(({ id, check, weight, part, bar, place, what }) => ({
      Weight: weight,
      Part: part === null ? '' : (parts[part]?.name ?? ''),
      Bar: bar === null ? '' : (bars[bar]?.number ?? ''),
      Place: place,
      Check: CHECKS[check],
      What: what,
      Meant: desk.decisions.meant.has(id) ? desk.decisions.meant.get(id) || 'yes' : '',
    })),
    // A text that opens like a formula would be one in a spreadsheet.
    { escapeFormulae: true },
  );
}
