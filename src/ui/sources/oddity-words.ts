import type { Oddity, OddityKind } from '../../core/stock/oddities';

/** What each kind of oddity is called. */
export const ODDITY_NAMES: Record<OddityKind, string> = {
  tempo: 'Tempo inside a bar',
  meter: 'Meter off the bar line',
  'default-meter': 'Meter by default',
  threes: 'Beats in threes',
  'one-player': 'Chords on several tracks',
  key: 'Signature by default',
  grid: 'No usable grid',
  pulse: 'Beats across the file’s',
  silence: 'Silence at the start',
  offset: 'Late as a whole',
  'empty-track': 'Track without notes',
  doubled: 'Doubled strand',
  echo: 'Echo',
  'key-switches': 'Key switches',
  hanging: 'Hanging notes',
  stacked: 'Stacked notes',
  specks: 'Specks',
  channel: 'Wrong channel',
  kit: 'Foreign kit',
  program: 'Wrong program',
  'program-changes': 'Program changes',
  'shared-channel': 'Shared channel',
  mixer: 'Mixer controllers',
  notation: 'From a notation program',
  technique: 'Technique of another strand',
};

/** What was mended, by kinds: "Mended: 12 mixer controllers, 3 hanging notes." */
export function mendedWords(oddities: readonly Oddity[]): string {
  const counts = new Map<OddityKind, number>();
  for (const { kind } of oddities) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  const parts = [...counts].map(([kind, count]) => `${ODDITY_NAMES[kind].toLowerCase()} ×${count}`);
  return `Mended: ${parts.join(', ')}.`;
}
