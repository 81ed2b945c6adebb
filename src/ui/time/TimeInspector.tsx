'use client';

import { Button, Select, Tabs } from 'antd';
import { lazy, Suspense, useEffect, useId, useState } from 'react';
import { counted } from '../../core/basics/words';
import type { Arrangement } from '../../core/edit/rearrange';
import type { NoteReading, ScorePlace } from '../../core/explain/explain';
import type { EventId } from '../../core/model/ids';
import { keyName } from '../../core/model/pitch';
import type { PartSummary } from '../../core/workbench/replies';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { useOfScore, useSession } from '../job/session';
import { BarSigns } from './BarSigns';
import { FindingsList } from './FindingsList';
import styles from './TimeInspector.module.css';
import frame from './TimeStage.module.css';
import { oddsWords } from './words';

/** The charts are a large part of the page's code, and seen only when they are asked for. */
const EvidenceCharts = lazy(() => import('./EvidenceCharts'));

interface Props {
  part: PartSummary | undefined;
  selected: ReadonlySet<EventId>;
}

interface InspectorProps extends Props {
  /** Number of the finding in hand, from 0. */
  finding: number;
  onFinding: (index: number) => void;
  /** Bars in view, as indices; `to` exclusive. */
  from: number;
  to: number;
  onGo: (bar: number) => void;
}

/** What was heard, what was decided and why, the other readings as small notation, and what can be done. */
export function TimeInspector({ part, selected, finding, onFinding, from, to, onGo }: InspectorProps) {
  const { summary } = useSession('summary');
  return (
    <aside className={frame.inspector} aria-label="Inspector">
      <Tabs
        size="small"
        items={[
          { key: 'note', label: 'Note', children: <NoteView part={part} selected={selected} /> },
          { key: 'bars', label: 'Bars', children: <BarSigns from={from} to={to} onGo={onGo} /> },
          {
            key: 'findings',
            label: `Findings ${summary?.findings.length ?? ''}`,
            children: <FindingsList current={finding} onGo={onFinding} />,
          },
          {
            key: 'evidence',
            label: 'Evidence',
            children: (
              <Suspense>
                <EvidenceCharts part={part} />
              </Suspense>
            ),
          },
        ]}
      />
    </aside>
  );
}

/** Stands for no note while none is chosen; nothing is asked of it. */
const NO_NOTE: EventId = '0/t0c0/0';
const NOTHING_SAID = { reading: null, origin: null };

function NoteView({ part, selected }: Props) {
  const { core, summary, stock, decisions, take } = useSession(
    'core',
    'summary',
    'stock',
    'decisions',
    'take',
  );
  const [first] = selected;
  const asked = first !== undefined;
  const note = first ?? NO_NOTE;
  const { data: said } = useOfScore(
    ['reading', note],
    async (worker, revision) => ({
      note,
      reading: await worker.reading(revision, { note }),
      origin: (await worker.origins(revision, { notes: [note] }))[0],
    }),
    asked,
  );
  const { data: others, isOld } = useOfScore(
    ['choices', note],
    (worker, revision) => worker.choices(revision, { note }),
    asked,
  );
  const choices = isOld ? [] : (others ?? []);
  const { reading, origin } = said?.note === note ? said : NOTHING_SAID;

  if (!first || !reading || !origin || !summary)
    return (
      <p className="soft">
        Choose a note bar or a note head to see why it is written where it is. With Shift choose up to another
        one.
      </p>
    );
  const notes = [...selected];
  const arrange = async (arrangement: Arrangement, like?: string) =>
    take(...(await core.rearrange(summary.revision, { notes, arrangement, ...(like && { like }) })));
  const isScore = stock.kind === 'score';
  const decided = notes.some((note) => decisions.places.has(note));
  const say = (place: ScorePlace) => `bar ${summary.bars[place.bar]}, ${place.words}`;
  return (
    <>
      <h2>
        {selected.size > 1
          ? counted(selected.size, 'note')
          : `${keyName(origin.key)} in ${part?.name ?? origin.strand}`}
      </h2>
      <dl className="figures" aria-live="polite">
        <dt>Written</dt>
        <dd>{reading.grace ? `grace note before ${say(reading.start)}` : say(reading.start)}</dd>
        <dt>Played</dt>
        <dd>
          {say(reading.played)}; tick {origin.on}
        </dd>
        <dt>Off by</dt>
        <dd>
          {signed(Math.round(reading.milliseconds))} ms, {signed(reading.ticks)} ticks
        </dd>
        <dt>Held</dt>
        <dd>
          {Math.round(origin.milliseconds)} ms{reading.staccato && ', short: staccato'}
          {reading.legato && ', into the next: legato'}
        </dd>
        <dt>Velocity</dt>
        <dd>{origin.velocity}</dd>
      </dl>
      <p>{isScore ? whyInScore(decided) : why(reading, decided)}</p>
      <fieldset className={styles.actions} aria-label="What to do with the rhythm">
        <Button size="small" onClick={() => void arrange('earlier')}>
          A slot earlier
        </Button>
        <Button size="small" onClick={() => void arrange('later')}>
          A slot later
        </Button>
        <Button size="small" onClick={() => void arrange('shorter')}>
          A slot shorter
        </Button>
        <Button size="small" onClick={() => void arrange('longer')}>
          A slot longer
        </Button>
        <Button size="small" onClick={() => void arrange('to-next')}>
          To the next note
        </Button>
        <Button size="small" onClick={() => void arrange('to-beat')}>
          To the beat
        </Button>
        {!isScore && (
          <Button size="small" onClick={() => void arrange('as-played')}>
            End as played
          </Button>
        )}
        <Select
          size="small"
          style={{ width: 150 }}
          value={null}
          placeholder="Rhythm of part …"
          aria-label="Take over the rhythm of another part"
          options={summary.parts
            .filter((each) => each.id !== part?.id)
            .map((each) => ({ value: each.id, label: each.name }))}
          onChange={(like: string | null) => like && void arrange('like-part', like)}
        />
        {decided && (
          <Button size="small" onClick={() => void arrange('as-found')}>
            As found
          </Button>
        )}
      </fieldset>
      {choices.length > 0 && <h3>Other readings</h3>}
      {choices.map((choice) => (
        <button
          type="button"
          key={`${choice.start} ${choice.grace}`}
          className={styles.choice}
          onClick={() => take({ kind: 'place', note: first, start: choice.start, grace: choice.grace })}
        >
          {choice.grace ? 'Grace note' : `Bar ${summary.bars[choice.bar]}, ${choice.words}`}
          <span className="soft"> {oddsWords(choice.worse)}</span>
          <SmallNotation document={choice.document} />
        </button>
      ))}
    </>
  );
}

const whyInScore = (decided: boolean): string =>
  `${decided ? 'You decided where it stands.' : 'It stands as the score has it.'} Its velocity follows from dynamics, hairpins and accents, its length from articulation, its time from tempo marks and fermatas.`;

/** One bar, engraved small. */
function SmallNotation({ document }: { document: string }) {
  // The same ids stand in the score and in the other readings: here they get a name of their own.
  const own = useId();
  const [svg, setSvg] = useState<string | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    void engrave({ document, width: 250, scale: 24 }, controller.signal).then((made) => {
      if (!controller.signal.aborted) setSvg(made);
    });
    return () => controller.abort();
  }, [document]);
  return svg && <Engraving svg={svg} own={own} isHidden />;
}

const signed = (value: number): string => (value > 0 ? `+${value}` : String(value).replace('-', '−'));

const DIVISIONS: Record<number, string> = {
  1: 'The beat is not divided here',
  2: 'The beat divides in halves',
  3: 'The beat divides in three',
  4: 'The beat divides in four',
  6: 'The beat divides in six',
  8: 'The beat divides in eight',
};

function why(reading: NoteReading, decided: boolean): string {
  const parts: string[] = [];
  if (decided) parts.push('You decided where it stands.');
  else if (reading.margin === null) parts.push('It was written to the tick, and stays there.');
  else {
    parts.push(`${DIVISIONS[reading.division] ?? `The beat divides in ${reading.division}`}.`);
    parts.push(
      reading.margin < 1.5
        ? `A narrow reading: the next is only ${Math.exp(Math.max(0, reading.margin)).toFixed(1)} times less likely.`
        : `The next reading is ${oddsWords(reading.margin)}.`,
    );
    parts.push(`Attacks of this part scatter by ${Math.round(reading.spread)} ms.`);
  }
  if (Math.abs(reading.lead) >= 1)
    parts.push(`${Math.round(reading.lead)} ms of lead were taken back first.`);
  if (reading.swing !== null) parts.push('Swing was taken out first.');
  return parts.join(' ');
}
