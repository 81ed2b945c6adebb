import type { EventId } from '../../../core/model/ids';
import { noteIdOf } from '../../../core/model/ids';
import { keyName } from '../../../core/model/pitch';
import type { InterlinearData, InterlinearRow, PlayedAndWritten } from '../../../core/workbench/replies';
import styles from './Interlinear.module.css';
import type { Axis } from './useStaves';

/** Height of the strip of note bars, and of one semitone at most, in pixels. */
export const STRIP = 104;
const TALLEST = 9;
const AIR = 6;
/** Room for the bar numbers above the notes. */
const NUMBERS = 16;
/** Room at an edge of the strip for a note that no staff can show, and its least width. */
const EDGE = 10;
const LEAST = 4;

/** Where the top of a written head stands, in pixels. */
export interface Head {
  x: number;
  y: number;
}

interface Props {
  row: InterlinearRow;
  bars: InterlinearData['bars'];
  axis: Axis;
  headOf: (note: EventId) => Head | undefined;
  /** In pixels. */
  width: number;
  flags: ReadonlyMap<EventId, number>;
  selected: ReadonlySet<EventId>;
}

/** The notes of one part as bars over the beats, each joined to its written head by a hairline. */
export function NoteStrip({ row: data, bars, axis, headOf, width, flags, selected }: Props) {
  const rows = Math.max(12, data.highest - data.lowest + 1);
  const room = STRIP - NUMBERS - AIR;
  const row = Math.min(TALLEST, room / rows);
  const used = row * (data.highest - data.lowest + 1);
  const yOf = (key: number) => NUMBERS + (room - used) / 2 + (data.highest - key) * row;
  const lastX = width - 2;
  return (
    <>
      <line x1={0} x2={width} y1={STRIP - 0.5} y2={STRIP - 0.5} className={styles.floor} />
      {bars.map((bar) => (
        <g key={bar.start}>
          {bar.beats.map((beat, index) => (
            <line
              key={beat}
              x1={axis(beat)}
              x2={axis(beat)}
              y1={index === 0 ? 0 : 12}
              y2={STRIP}
              className={index === 0 ? styles.barLine : styles.beatLine}
            />
          ))}
          <text x={axis(bar.start) + 3} y={10} className={styles.number}>
            {bar.number}
          </text>
        </g>
      ))}
      {data.unwritable.map(({ id, key, playedStart, playedEnd }) => {
        const x = Math.max(0, Math.min(axis(playedStart), lastX - LEAST));
        const y = key < data.lowest ? STRIP - EDGE : NUMBERS;
        return (
          <g key={id} data-note={noteIdOf(id)}>
            <rect
              x={x}
              y={y}
              width={Math.max(LEAST, Math.min(lastX, axis(playedEnd)) - x)}
              height={EDGE - 2}
              className={styles.unwritable}
            />
            <text x={x - 3} y={y + EDGE - 3} textAnchor="end" className={styles.number}>
              {keyName(key)}, on no staff
            </text>
            <Flag number={flags.get(id)} x={x} y={y} />
          </g>
        );
      })}
      {data.notes.map((note) => (
        <Bar
          key={note.id}
          note={note}
          axis={axis}
          y={yOf(note.key)}
          height={Math.max(3, row - 1)}
          lastX={lastX}
          head={headOf(note.id)}
          flag={flags.get(note.id)}
          isSelected={selected.has(note.id)}
        />
      ))}
    </>
  );
}

/** The number of a finding on a staff of its own above the note. */
function Flag({ number, x, y }: { number: number | undefined; x: number; y: number }) {
  if (number === undefined) return null;
  const { length } = String(number);
  return (
    <>
      <path d={`M${x} ${y}v-14h${8 + 6 * length}l-3 5.5l3 5.5h-${5 + 6 * length}`} className={styles.flag} />
      <text x={x + 4} y={y - 4.5} className={styles.flagNumber}>
        {number}
      </text>
    </>
  );
}

interface BarProps {
  note: PlayedAndWritten;
  axis: Axis;
  y: number;
  height: number;
  lastX: number;
  head: Head | undefined;
  flag: number | undefined;
  isSelected: boolean;
}

function Bar({ note, axis, y, height, lastX, head, flag, isSelected }: BarProps) {
  const x = Math.max(0, axis(note.playedStart));
  const end = Math.min(lastX, axis(note.playedEnd));
  const written = Math.max(0, axis(note.start));
  const writtenEnd = Math.min(lastX, axis(note.end));
  return (
    <g data-note={noteIdOf(note.id)}>
      {head && (
        <line
          x1={x}
          y1={y + height / 2}
          x2={head.x}
          y2={head.y}
          className={isSelected ? styles.threadChosen : styles.thread}
        />
      )}
      {!note.grace && (
        <rect
          x={written}
          y={y - 1.5}
          width={Math.max(2, writtenEnd - written - 1)}
          height={height + 3}
          className={styles.fitted}
        />
      )}
      <rect
        x={x}
        y={y}
        width={Math.max(2, end - x)}
        height={height}
        className={styles.played}
        style={{ fillOpacity: 0.35 + (0.65 * note.velocity) / 127 }}
      />
      <Flag number={flag} x={x} y={y} />
      {note.decided && <circle cx={x} cy={y - 6} r={2.5} className={styles.decided} />}
      {isSelected && (
        <rect
          x={x - 2.5}
          y={y - 3}
          width={Math.max(2, end - x) + 5}
          height={height + 6}
          className={styles.chosen}
        />
      )}
    </g>
  );
}
