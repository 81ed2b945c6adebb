import { endingOf } from '../../core/basics/file-names';
import type { Brief } from '../../core/decisions/brief';
import type { PacketChoice, PacketExtra } from '../../core/deliver/packet-choice';
import type { StemsChoice } from '../../core/sound/stem-choice';
import type { ScoreSummary } from '../../core/workbench/replies';
import { bytesOfRecording } from '../../store/recordings';
import type { RecordingRow } from '../../store/rows';
import { type Core, proxy, withSound } from '../../workers/client';
import type { ChosenFormat } from '../../workers/paper';
import { percentDone } from '../common/percent';
import { unlessStopped } from '../common/unlessStopped';
import { pdfOfEach, pdfOfParts } from '../notes/pdfs';
import { bankBytes } from '../playback/bank';
import type { Stem } from '../stems/laid-stems';

/** A job at one state: everything in its packet is made of it. */
export interface PacketOf {
  core: Core;
  brief: Brief;
  summary: ScoreSummary;
  recording: RecordingRow | null;
  stems: readonly Stem[];
  concert: boolean;
  chosen: ChosenFormat;
  /** Told the letters that are not in its PDFs. */
  onMissing: (letters: readonly string[]) => void;
}

/**
 * Makes a packet, with what the page adds to it: pages and sound.
 *
 * @param onStep told what is being made
 * @returns null where the signal was given
 * @throws Error where the job was changed meanwhile, or something could not be made
 */
export async function makePacket(
  of: PacketOf,
  choice: PacketChoice,
  name: string,
  signal: AbortSignal,
  onStep: (what: string) => void,
): Promise<Uint8Array | null> {
  const { core, brief, summary } = of;
  const extras: PacketExtra[] = [];
  // While one is made a PDF, others are engraved.
  const [score, parts] = await Promise.all([
    choice.scorePdf
      ? pdfOfParts(of, summary.parts, signal, (done, all) => onStep(`Score: system ${done} of ${all}`))
      : undefined,
    choice.partsPdf
      ? pdfOfEach(of, summary.parts, signal, (part, done) =>
          onStep(`${part}: part ${done + 1} of ${summary.parts.length}`),
        )
      : undefined,
  ]);
  if (score === null || parts === null) return null;
  if (score) extras.push({ kind: 'score-pdf', name: '', bytes: score });
  for (const { name: part, bytes } of parts ?? []) extras.push({ kind: 'part-pdf', name: part, bytes });
  if (choice.recording && of.recording) {
    const bytes = await bytesOfRecording(of.recording);
    extras.push({ kind: 'recording', name: of.recording.name, bytes });
  }
  if (choice.stems) extras.push(...(await stemExtras(of)));
  if (choice.rendered) {
    const bytes = await rendered(of, signal, (share) => onStep(`Sound: ${percentDone(share)} %`));
    if (!bytes) return null;
    extras.push({ kind: 'rendered', name: '', bytes });
  }
  if (signal.aborted) return null;
  onStep('Proof and zip');
  const packet = await core.packet({ ...choice, name }, brief, extras);
  return signal.aborted ? null : packet;
}

/** More than this has no room in a packet, which is made in memory; bytes. */
const MOST_STEMS = 1_000_000_000;

/**
 * The stems that are not hidden, numbered as their parts are; those of no part come last.
 * @throws Error where one is damaged, or all are too much
 */
async function stemExtras({ stems, summary }: PacketOf): Promise<PacketExtra[]> {
  const shown = stems.filter(({ hidden }) => !hidden);
  if (shown.reduce((sum, { row }) => sum + row.file.size, 0) > MOST_STEMS)
    throw new Error('The stems are larger than 1 GB together: hand them over by themselves.');
  const { parts } = summary;
  const digits = String(parts.length).length;
  const taken = new Map<string, number>();
  const extras: PacketExtra[] = [];
  for (const { name, part, file, row } of shown) {
    const place = parts.findIndex(({ leader }) => leader === part);
    // Its number is that of its part, and no longer the one that files were counted by.
    const uncounted = name.replace(/^\d{1,3}[\s._-]+(?=\D)/, '');
    const numbered = place < 0 ? name : `${String(place + 1).padStart(digits, '0')} ${uncounted}`;
    const times = (taken.get(numbered) ?? 0) + 1;
    taken.set(numbered, times);
    const whole = times === 1 ? numbered : `${numbered} (${times})`;
    extras.push({ kind: 'stem', name: `${whole}${endingOf(file)}`, bytes: await bytesOfRecording(row) });
  }
  return extras;
}

/** How sound goes into a packet. */
const IN_PACKET: StemsChoice = { format: 'wav', rate: 48_000, bits: 16, leadInBars: 0, click: false };

/** The cleaned performance as a WAV file, all strands as they are; null where the signal was given. */
async function rendered(
  { core, summary }: PacketOf,
  signal: AbortSignal,
  onShare: (share: number) => void,
): Promise<Uint8Array | null> {
  const timeline = await core.timeline(summary.revision, { heard: 'cleaned' });
  const bank = await bankBytes();
  const stems = await core.stems(summary.revision, { heard: 'cleaned', by: 'all' });
  const rendering = withSound(
    (sound) => sound.render(bank, timeline, stems, IN_PACKET, new Map(), proxy(onShare)),
    signal,
  );
  const done = await unlessStopped(signal, rendering);
  return done && new Uint8Array(await done.content.arrayBuffer());
}
