'use client';

import { Button, Spin } from 'antd';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { type ReactNode, useEffect, useState } from 'react';
import { counted } from '../../core/basics/words';
import { instrumentOf } from '../../core/instruments/catalogue';
import { CHECKS } from '../../core/proof/finding';
import type { Oddity, OddityKind } from '../../core/stock/oddities';
import { harmWords, isInBulk } from '../../core/stock/oddities/oddity';
import { percent } from '../common/percent';
import { Engraving } from '../engraving/Engraving';
import { engrave } from '../engraving/engrave';
import { useOfScore, useSession } from '../job/session';
import { useProof } from '../proof/useProof';
import { useDoubts } from '../roster/useDoubts';
import { Carried } from './Facts';
import styles from './OverviewView.module.css';
import { ODDITY_NAMES } from './oddity-words';
import { StrandCount } from './StrandCount';
import { useMends } from './useMends';

/** What the piece is, what is doubtful in it, and what comes of it, on one screen. */
export function OverviewView() {
  return (
    <div className={styles.overview}>
      <div className={styles.column}>
        <FirstBars />
        <LineUp />
      </div>
      <div className={styles.column}>
        <NextSteps />
        <Bars />
        <ToLookAt />
        <Beside />
      </div>
    </div>
  );
}

function Box({ title, more, children }: { title: string; more?: ReactNode; children: ReactNode }) {
  return (
    <section className={styles.box} aria-label={title}>
      <header>
        <h2>{title}</h2>
        {more}
      </header>
      {children}
    </section>
  );
}

/** What the source carries besides notes. */
function Beside() {
  const { stock, inventory } = useSession('stock', 'inventory');
  if (!stock.marks && (stock.kind !== 'performance' || inventory.noteFree.length === 0)) return null;
  return (
    <Box title="Beside the notes">
      <Carried />
    </Box>
  );
}

/** The way to a stage of this job. */
function useStage(): (stage: string) => string {
  const { job } = useSession('job');
  return (stage) => `/job/${job.id}/${stage}`;
}

/** So many bars of so many parts, those that enter first, say how the piece begins. */
const OPENING = 4;
const OPENING_PARTS = 7;
/** Staff spaces that a system of them is wide, and how large it is engraved; it is scaled to its box after that. */
const WIDTH = 1240;
const SCALE = 36;

function FirstBars() {
  const { summary, behind } = useSession('summary', 'behind');
  const stage = useStage();
  const all = summary?.parts ?? [];
  const first = new Set(all.toSorted((one, other) => one.enters - other.enters).slice(0, OPENING_PARTS));
  const parts = all.filter((part) => first.has(part)).map(({ id }) => id);
  const to = Math.min(OPENING, summary?.bars.length ?? 0);
  const { data: document, why } = useOfScore(
    ['window', parts, 0, to, false],
    (core, revision) => core.window(revision, { parts, from: 0, to }),
    parts.length > 0 && to > 0,
  );
  const [svg, setSvg] = useState<string | null>(null);
  useEffect(() => {
    if (!document) return;
    const controller = new AbortController();
    engrave({ document, width: WIDTH, scale: SCALE }, controller.signal).then(
      (made) => {
        if (!controller.signal.aborted) setSvg(made);
      },
      () => setSvg(null),
    );
    return () => controller.abort();
  }, [document]);
  const isEmpty = summary !== null && parts.length === 0;
  return (
    <Box
      title={parts.length < all.length ? `The score: ${parts.length} of ${all.length} parts` : 'The score'}
      more={<Link href={stage('notes')}>Open it</Link>}
    >
      <div className={styles.page}>
        {svg ? (
          <Engraving svg={svg} own="overview-" className={styles.engraving} isHidden />
        ) : (
          <p className="soft" role="status">
            {isEmpty ? (
              'No part is in the score: everything is left out.'
            ) : (
              <>
                {!why && <Spin size="small" />} {why ?? behind ?? 'The first bars are being engraved.'}
              </>
            )}
          </p>
        )}
      </div>
    </Box>
  );
}

/** More parts than this are counted. */
const MOST_PARTS = 48;

function LineUp() {
  const { summary } = useSession('summary');
  const doubts = useDoubts();
  const stage = useStage();
  const parts = summary?.parts ?? [];
  return (
    <Box
      title={summary ? `Line-up: ${counted(parts.length, 'part')}` : 'Line-up'}
      more={<Link href={stage('roster')}>Change it</Link>}
    >
      <ol className={styles.lineUp}>
        {parts.slice(0, MOST_PARTS).map((part) => {
          const sure = doubts.get(part.leader);
          const { name } = instrumentOf(part.instrument);
          return (
            <li key={part.leader}>
              {part.name}
              {!part.name.toLowerCase().includes(name.toLowerCase()) && <span className="soft"> {name}</span>}
              {sure !== undefined && (
                <span className="rubric"> a guess, {Math.round(100 * sure)} % sure</span>
              )}
            </li>
          );
        })}
      </ol>
      {parts.length > MOST_PARTS && <p className="soft">and {parts.length - MOST_PARTS} more</p>}
      <StrandCount />
    </Box>
  );
}

/** Kinds of oddities about bars and beats. */
const OF_BARS: ReadonlySet<OddityKind> = new Set<OddityKind>([
  'pulse',
  'grid',
  'threes',
  'offset',
  'silence',
  'meter',
  'default-meter',
]);

/** Whether the bars of the source are believed, and what else they may be. */
function Bars() {
  const { inventory, stock, decisions } = useSession('inventory', 'stock', 'decisions');
  const { mend, accept } = useMends();
  const stage = useStage();
  const odd = inventory.oddities.filter(({ kind }) => OF_BARS.has(kind));
  const said =
    stock.kind === 'score'
      ? 'They stand as the score has them.'
      : decisions.beats
        ? 'They were laid along the music by hand.'
        : stock.followsHeard
          ? 'The file’s beats say nothing of the music: bars follow the beats that are heard.'
          : odd.length > 0
            ? 'The file’s bars are followed, and may not be meant:'
            : 'The file’s bars fit the music.';
  return (
    <Box title="Bars" more={<Link href={stage('time')}>See them</Link>}>
      <p>{said}</p>
      {odd.map((oddity) => (
        <div key={oddity.id} className={styles.odd}>
          <p>{oddity.what}</p>
          {oddity.harm && <p className="soft">{harmWords(oddity.harm)}</p>}
          <Button size="small" onClick={() => mend([oddity])}>
            {oddity.mend.label}
          </Button>
          <Button size="small" type="text" onClick={() => accept([oddity])}>
            Leave it so
          </Button>
        </div>
      ))}
    </Box>
  );
}

/** Kinds of things to look at that are named; the others are counted. */
const NAMED = 6;

function ToLookAt() {
  const { inventory, failure } = useSession('inventory', 'failure');
  const { findings, open, why } = useProof();
  const { mend } = useMends();
  const stage = useStage();
  const { oddities } = inventory;
  const safe = oddities.filter(isInBulk);
  const odd = countedBy(oddities, ({ kind }) => ODDITY_NAMES[kind]);
  // What is odd in the source stands above, by itself.
  const inScore = findings.filter(
    ({ check, weight, isMeant }) => check !== 'source' && weight !== 'remark' && !isMeant,
  );
  const found = countedBy(inScore, ({ check }) => CHECKS[check]);
  const isNothing = oddities.length === 0 && open === 0;
  return (
    <Box title="To look at">
      {failure !== null && <p className="rubric">Not known: {failure}</p>}
      {isNothing && <p>Nothing: no part of the source is odd, and no check of the score found anything.</p>}
      {odd.length > 0 && (
        <>
          <p>
            <Link href={`${stage('sources')}?view=oddities`}>
              {oddities.length} {oddities.length === 1 ? 'oddity' : 'oddities'} in the source
            </Link>
          </p>
          <Counts counts={odd} />
          {safe.length > 0 && (
            <Button size="small" onClick={() => mend(safe)} title={mendWords(safe)}>
              Mend the {safe.length} that are safe
            </Button>
          )}
        </>
      )}
      {why !== null && <p className="rubric">The checks did not run: {why}</p>}
      {why === null && open === null && <p className="soft">The score is being checked.</p>}
      {found.length > 0 && (
        <>
          <p>
            <Link href={stage('proof')}>{counted(inScore.length, 'finding')} in the score</Link>
          </p>
          <Counts counts={found} />
        </>
      )}
    </Box>
  );
}

function Counts({ counts }: { counts: readonly (readonly [name: string, count: number])[] }) {
  const rest = counts.slice(NAMED).reduce((sum, [, count]) => sum + count, 0);
  return (
    <ul className={styles.counts}>
      {counts.slice(0, NAMED).map(([name, count]) => (
        <li key={name}>
          {name} <span className="figures">{count}</span>
        </li>
      ))}
      {rest > 0 && (
        <li className="soft">
          Others <span className="figures">{rest}</span>
        </li>
      )}
    </ul>
  );
}

/** How many there are of each name, most first. */
function countedBy<T>(all: readonly T[], nameOf: (each: T) => string): [name: string, count: number][] {
  const counts = new Map<string, number>();
  for (const each of all) counts.set(nameOf(each), (counts.get(nameOf(each)) ?? 0) + 1);
  return [...counts].sort(([, one], [, other]) => other - one);
}

/** What mending at once would do, kind by kind. */
const mendWords = (oddities: readonly Oddity[]): string =>
  countedBy(oddities, ({ kind, mend }) => `${ODDITY_NAMES[kind]}: ${mend.label.toLowerCase()}`)
    .map(([what, count]) => (count > 1 ? `${what} (${count})` : what))
    .join('\n');

/** How far the score agrees with the source, and where to go from here. */
function NextSteps() {
  const { inventory } = useSession('inventory');
  const { proof, open, isOld, why } = useProof();
  const stage = useStage();
  const agreement = proof?.agreement;
  const router = useRouter();
  const go = (to: string) => router.push(to, { scroll: false });
  const left = open ?? inventory.oddities.length;
  const share =
    why !== null
      ? `Not known: ${why}`
      : agreement
        ? agreement.notes === 0
          ? 'The source has no notes.'
          : `${percent((agreement.agree + agreement.meant) / agreement.notes)} of ${counted(agreement.notes, 'note')} agree${isOld ? '; it is being checked again' : ''}.`
        : 'Source and score are being compared.';
  return (
    <Box title="Source and score">
      <p aria-live="polite">{share}</p>
      <div className={styles.steps}>
        {left > 0 && (
          <Button
            type="primary"
            onClick={() =>
              go(inventory.oddities.length > 0 ? `${stage('sources')}?view=oddities` : stage('proof'))
            }
          >
            Look through {left}
          </Button>
        )}
        <Button type={left > 0 ? 'default' : 'primary'} onClick={() => go(stage('notes'))}>
          Go to the score
        </Button>
        <Button onClick={() => go(stage('deliver'))}>Hand over</Button>
      </div>
    </Box>
  );
}
