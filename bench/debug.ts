import { EMPTY_BRIEF } from '../src/core/brief/brief';
import { withDirectives } from '../src/core/brief/decisions';
import type { PlainDirective } from '../src/core/brief/directives';
import { layOut } from '../src/core/desk';
import { readSmf } from '../src/core/smf/read';
import { transcribeNow } from '../src/core/transcribe';
import { QUARTER } from '../src/core/score/time';
import { readNotes } from './rhythm/judge';
import { type Level, perform } from './rhythm/perform';
import { loadWorks } from './rhythm/works';
const level = Number(process.env.LEVEL ?? 3) as Level;
const work = loadWorks().find((w) => w.name.includes(process.env.WORK!))!;
const performed = perform(work, level, Number(process.env.SEED ?? 1));
const strandId = (index: number) => `t${index + 2}c${(index % 15 >= 9 ? (index % 15) + 1 : index % 15) + 1}`;
const directives: PlainDirective[] = [{ kind: 'clock', upbeatQuarters: performed.upbeatQuarters }];
const leaders = new Map<number, string>();
performed.tracks.forEach((track, index) => {
  const leader = leaders.get(track.part);
  if (leader) directives.push({ kind: 'join', strand: strandId(index), into: leader });
  else { leaders.set(track.part, strandId(index)); if (work.parts[track.part]!.staves === 2) directives.push({ kind: 'staves', strand: strandId(index), staves: 2 }); }
});
const brief = withDirectives(EMPTY_BRIEF, directives);
const { performance } = layOut(readSmf(performed.bytes), brief);
const result = transcribeNow(performance, brief);
console.log('leads', result.leads, 'ahead', performed.tracks.map((t) => t.ahead), 'swing', performed.swing, result.swings, result.plans.map((p) => p.instrument.id + ' ' + p.instrument.singleLine + p.staves), 'sigmas', (result as unknown as {sigmas?: number[]}).sigmas);
const read = readNotes(result.score);
const patterns = new Map<string, number>();
const lengthErrors = new Map<string, number>();
const q = (m: number) => String(Math.round((m / QUARTER) * 1000) / 1000);
performed.tracks.forEach((track, index) => {
  const strand = performance.strands.find((each) => each.id === strandId(index))!;
  const ids = strand.notes.toSorted((a, b) => a.on - b.on || a.key - b.key).map((n) => n.id);
  const byBeat = new Map<number, [Set<string>, Set<string>]>();
  track.notes.forEach(({ truth, on, off }, at) => {
    const r = read.get(ids[at]!);
    if (truth.grace) { patterns.set('grace ' + (r?.grace ?? 'lost'), (patterns.get('grace ' + (r?.grace ?? 'lost')) ?? 0) + 1); return; }
    const beat = Math.floor(truth.start / QUARTER);
    const [t, s] = byBeat.get(beat) ?? [new Set<string>(), new Set<string>()];
    byBeat.set(beat, [t, s]);
    t.add(q(truth.start - beat * QUARTER));
    s.add(r ? (r.grace ? 'g' : '') + q(r.start - beat * QUARTER) : 'none');
    if (r && r.start === truth.start && r.end !== truth.end) {
      const key = `${q(truth.end - truth.start)} → ${q(r.end - r.start)}`;
      if (process.env.LEN === key) console.log(index, 'at', q(truth.start), 'key', truth.key, 'voice', truth.staff, truth.voice, 'played', (on/480).toFixed(3), ((off-on)/480).toFixed(3), 'next', track.notes.filter((n) => n.on > on).slice(0,3).map((n) => q(n.truth.start)+':'+n.truth.key).join(' '));
      lengthErrors.set(key, (lengthErrors.get(key) ?? 0) + 1);
    }
    if (process.env.BARS && r && r.start !== truth.start) console.log(index, 'true', q(truth.start), 'read', q(r.start), 'played', (on / 480).toFixed(3), 'key', truth.key, 'voice', truth.staff, truth.voice);
  });
  for (const [t, s] of byBeat.values()) { const a = [...t].join(' '), b = [...s].join(' '); if (a !== b) patterns.set(`${a} → ${b}`, (patterns.get(`${a} → ${b}`) ?? 0) + 1); }
});
console.log([...patterns].sort((a, b) => b[1] - a[1]).slice(0, 28).map(([p, n]) => `${n}  ${p}`).join('\n'));
console.log('LENGTHS'); console.log([...lengthErrors].sort((a, b) => b[1] - a[1]).slice(0, 24).map(([p, n]) => `${n}  ${p}`).join('\n'));
