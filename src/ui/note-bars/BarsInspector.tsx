'use client';

import { Button } from 'antd';
import { type Ref, useMemo } from 'react';
import { counted } from '../../core/basics/words';
import { drumSound } from '../../core/instruments/kit';
import { barAt, positionAt, secondsAt } from '../../core/model/clock';
import { spelledStrand } from '../../core/model/ids';
import { keyName } from '../../core/model/pitch';
import { type NoteBarsData, noteOf, type StrandBars } from '../../core/workbench/note-bars';
import { useSession } from '../job/session';
import type { NoteEdit } from '../notes/useNoteEdits';
import { usePlayback } from '../playback/playback';
import { BarsEditing } from './BarsEditing';
import { CurveTools } from './CurveTools';
import styles from './NoteBars.module.css';
import type { Curve } from './useCurve';
import type { NoteSelection } from './view';
import { gridDistance } from './view';

const nameOf = (strand: StrandBars): string =>
  `${strand.part || strand.name || spelledStrand(strand.id)}${strand.piece ? `, ${strand.piece}` : ''}`;

const pitchOf = (strand: StrandBars, key: number): string =>
  strand.unpitched ? `${drumSound(key).name} (${key})` : `${keyName(key)} (${key})`;

/** Exact figures of what is selected on the note bars, and what can be done with it. */
export function BarsInspector({
  data,
  notes,
  bars,
  active,
  lane,
  curve,
  editor,
  onClear,
}: {
  data: NoteBarsData;
  notes: NoteSelection;
  bars: readonly [number, number] | null;
  active: number | null;
  /** The lane that is shown below the strips. */
  lane: string;
  curve: Curve;
  /** Where the edits of the chosen notes are kept for the keys. */
  editor: Ref<(edit: NoteEdit) => void>;
  onClear: () => void;
}) {
  const { take } = useSession('take');
  const { change, loops } = usePlayback();
  const chosen = [...notes].flatMap(([strand, each]) => [...each].map((note) => ({ strand, note })));
  const ids = useMemo(
    () => [...notes].flatMap(([index, own]) => [...own].map((note) => noteOf(data.strands[index]!, note))),
    [notes, data],
  );
  const strand = active === null ? undefined : data.strands[active];
  const shownLane = strand?.lanes.find((each) => each.lane === lane);
  const [only] = chosen;
  return (
    <aside className={styles.inspector} aria-label="Inspector" aria-live="polite">
      {chosen.length === 1 && only && (
        <OneNote data={data} strand={data.strands[only.strand]!} note={only.note} />
      )}
      {chosen.length > 1 && <ManyNotes data={data} notes={notes} count={chosen.length} />}
      {chosen.length > 0 && <BarsEditing ids={ids} editor={editor} />}
      {chosen.length === 0 && strand && <OneStrand strand={strand} />}
      {chosen.length === 0 && !strand && (
        <p className="soft">
          Choose a note or a strand. Drag over notes to choose many, over the bar numbers to choose bars.
        </p>
      )}
      {strand && curve.isDrawable && <CurveTools data={data} strand={strand} lane={lane} curve={curve} />}
      {bars && (
        <>
          <h2>
            Bars {barAt(data.clock, bars[0]).number}–{barAt(data.clock, bars[1] - 1).number}
          </h2>
          <p className="figures">
            {secondsAt(data.clock, bars[0]).toFixed(3)} s to {secondsAt(data.clock, bars[1]).toFixed(3)} s
          </p>
        </>
      )}
      <div className={styles.actions}>
        {bars && (
          <Button size="small" onClick={() => change({ loops: !loops })}>
            {loops ? 'Play on past these bars' : 'Loop these bars'}
          </Button>
        )}
        {bars && strand && (
          <Button
            size="small"
            onClick={() =>
              take({
                kind: 'split',
                strand: strand.id,
                by: 'passage',
                from: Math.floor(bars[0]),
                to: Math.floor(bars[1]),
              })
            }
          >
            Onto a strand of their own
          </Button>
        )}
        {bars && strand && shownLane && (
          <Button
            size="small"
            onClick={() =>
              take({
                kind: 'controllers',
                strand: strand.id,
                lanes: [shownLane.lane],
                use: 'remove',
                from: Math.floor(bars[0]),
                to: Math.floor(bars[1]),
              })
            }
          >
            Remove {shownLane.name} here
          </Button>
        )}
        {strand && (
          <Button
            size="small"
            onClick={() => take({ kind: 'leave-out', strand: strand.id, out: !strand.out })}
          >
            {strand.out ? 'Take the strand in' : 'Leave the strand out'}
          </Button>
        )}
        {(bars || chosen.length > 0) && (
          <Button size="small" type="text" onClick={onClear}>
            Clear the selection
          </Button>
        )}
      </div>
    </aside>
  );
}

function OneNote({ data, strand, note }: { data: NoteBarsData; strand: StrandBars; note: number }) {
  const { clock } = data;
  const on = strand.on[note]!;
  const off = strand.off[note]!;
  const at = positionAt(clock, on);
  const { ticks, slot } = gridDistance(clock, on);
  const milliseconds = 1000 * (secondsAt(clock, on) - secondsAt(clock, on - ticks));
  const held = 1000 * (secondsAt(clock, off) - secondsAt(clock, on));
  return (
    <>
      <h2>{pitchOf(strand, strand.key[note]!)}</h2>
      <dl className="figures">
        <dt>Strand</dt>
        <dd>
          {nameOf(strand)}, track {strand.track}, channel {strand.channel}
        </dd>
        <dt>Place</dt>
        <dd>
          {barAt(clock, on).number}:{at.beat}
          {at.offset > 0 && ` + ${Math.round(at.offset)} ticks`}
        </dd>
        <dt>Tick</dt>
        <dd>{on}</dd>
        <dt>Time</dt>
        <dd>{secondsAt(clock, on).toFixed(3)} s</dd>
        <dt>Held</dt>
        <dd>
          {off - on} ticks, {Math.round(held)} ms
        </dd>
        <dt>Velocity</dt>
        <dd>{strand.velocity[note]}</dd>
        {strand.sure && (
          <>
            <dt>Heard</dt>
            <dd>{strand.sure[note]} % sure</dd>
          </>
        )}
        <dt>Off the grid</dt>
        <dd>
          {Math.abs(ticks) < 0.5
            ? `on a ${slot}`
            : `${Math.abs(Math.round(ticks))} ticks, ${Math.abs(Math.round(milliseconds))} ms ${ticks > 0 ? 'after' : 'before'} a ${slot}`}
        </dd>
      </dl>
    </>
  );
}

function ManyNotes({ data, notes, count }: { data: NoteBarsData; notes: NoteSelection; count: number }) {
  let low = 127;
  let high = 0;
  let soft = 127;
  let loud = 0;
  let from = Number.POSITIVE_INFINITY;
  let to = 0;
  for (const [index, each] of notes) {
    const { key, velocity, on, off } = data.strands[index]!;
    for (const note of each) {
      low = Math.min(low, key[note]!);
      high = Math.max(high, key[note]!);
      soft = Math.min(soft, velocity[note]!);
      loud = Math.max(loud, velocity[note]!);
      from = Math.min(from, on[note]!);
      to = Math.max(to, off[note]!);
    }
  }
  return (
    <>
      <h2>{counted(count, 'note')}</h2>
      <dl className="figures">
        <dt>Strands</dt>
        <dd>{[...notes.keys()].map((index) => nameOf(data.strands[index]!)).join('; ')}</dd>
        <dt>Range</dt>
        <dd>
          {keyName(low)}–{keyName(high)}
        </dd>
        <dt>Velocity</dt>
        <dd>
          {soft}–{loud}
        </dd>
        <dt>Bars</dt>
        <dd>
          {barAt(data.clock, from).number}–{barAt(data.clock, Math.max(from, to - 1)).number}
        </dd>
        <dt>Ticks</dt>
        <dd>
          {from}–{to}
        </dd>
      </dl>
    </>
  );
}

function OneStrand({ strand }: { strand: StrandBars }) {
  return (
    <>
      <h2>{nameOf(strand)}</h2>
      <dl className="figures">
        <dt>Source</dt>
        <dd>
          “{strand.name}”, track {strand.track}, channel {strand.channel}
        </dd>
        <dt>Notes</dt>
        <dd>{strand.on.length.toLocaleString('en')}</dd>
        <dt>Range</dt>
        <dd>
          {keyName(strand.lowest)}–{keyName(strand.highest)}
        </dd>
        <dt>Lanes</dt>
        <dd>{strand.lanes.map((lane) => lane.name).join(', ') || 'none'}</dd>
      </dl>
    </>
  );
}
