'use client';

import { Alert } from 'antd';
import { counted } from '../../core/basics/words';
import { spelledDivision } from '../../core/sources/smf/events';
import { carriedText } from '../../core/stock/oddities/tracks';
import type { MarkUse, Stock } from '../../core/workbench/replies';
import { clockText, signatureName } from '../common/names';
import { useSession } from '../job/session';
import { READ_WORDS } from '../recording/read-words';
import { SourceList } from './SourceList';
import styles from './SourcesStage.module.css';
import { VersionNewsView } from './VersionNews';

const listed = (uses: readonly MarkUse[]): string =>
  uses.map(({ name, count, as }) => `${name} ×${count}${as ? ` (${as})` : ''}`).join(', ');

/** What becomes of a score's marks when it is played. */
function Marks({ marks }: { marks: NonNullable<Stock['marks']> }) {
  const { became, silent, lost } = marks;
  return (
    <>
      {became.length > 0 && <p className="soft">Marks that sound: {listed(became)}.</p>}
      {silent.length > 0 && (
        <p className="soft">Marks that stay in the score and are not played out: {listed(silent)}.</p>
      )}
      {lost.length > 0 && (
        <p className="soft">
          In the document without a place here: {listed(lost)}. They stay in it and go out with it.
        </p>
      )}
    </>
  );
}

/** What the source carries besides notes: marks of a score, tracks without notes. */
export function Carried() {
  const { inventory, stock } = useSession('inventory', 'stock');
  return (
    <>
      {stock.marks && <Marks marks={stock.marks} />}
      {stock.kind === 'performance' &&
        inventory.noteFree.map((track) => (
          <p key={track.track} className="soft">
            Track {track.track + 1}
            {track.name && ` “${track.name}”`} has no notes and makes no part. It carries{' '}
            {carriedText(track.carries) || 'nothing'}.
          </p>
        ))}
    </>
  );
}

/** What the file is, and what was mended in it. */
export function Facts() {
  const { inventory, stock, history, summary } = useSession('inventory', 'stock', 'history', 'summary');
  const beyond = summary?.placedBeyond ?? 0;
  const refusals = [
    ...stock.refusals.map(({ why }) => why),
    ...history.refused,
    ...(summary?.undone ?? []),
    ...(beyond > 0
      ? [`${counted(beyond, 'note')} placed after the end of the piece stand where they were heard.`]
      : []),
  ];
  const { clock, mends, division } = inventory;
  const [first] = clock.tempos;
  const [key] = clock.keys;
  return (
    <section className={styles.facts} aria-label="The source">
      <h1>{stock.name}</h1>
      <p className="figures">
        {stock.kind === 'score'
          ? `MusicXML score, ${counted(inventory.strands.length, 'part')} that ${inventory.strands.length === 1 ? 'sounds' : 'sound'}; as played`
          : stock.heard
            ? `Recording of ${clockText(stock.heard.facts.seconds)}, heard as ${READ_WORDS[stock.heard.read]}: ${counted(stock.heard.taken, 'note')}, ${stock.heard.doubtful} of them doubtful`
            : `Format ${inventory.format}, ${division && spelledDivision(division)}`}
        {' · '}
        {counted(clock.bars, 'bar')}, {clockText(clock.seconds)}
        {' · '}
        {first
          ? `${counted(clock.tempos.length, 'tempo')} from ${first.quartersPerMinute}`
          : 'no tempo, so 120'}
        {' · '}
        {clock.meters
          .map((meter) => `${meter.numerator}/${meter.denominator}`)
          .slice(0, 6)
          .join(' ') || 'no meter, so 4/4'}
        {' · '}
        {key ? signatureName(key.fifths, key.mode === 'minor') : 'no key signature'}
        {clock.markers.length > 0 && ` · ${counted(clock.markers.length, 'marker')}`}
        {inventory.lyrics > 0 && ` · ${counted(inventory.lyrics, 'lyric')}`}
      </p>
      <SourceList />
      <VersionNewsView />
      {refusals.length > 0 && (
        <Alert
          type="error"
          className={styles.mends}
          title={`${counted(refusals.length, 'decision')} could not be followed`}
          description={
            <>
              <ul>
                {refusals.slice(0, 50).map((why) => (
                  <li key={why}>{why}</li>
                ))}
              </ul>
              Undo takes back what was decided last.
            </>
          }
        />
      )}
      {mends.length > 0 && (
        <Alert
          type="warning"
          className={styles.mends}
          title={`${counted(mends.length, 'place')} in the file had to be mended`}
          description={
            <ul>
              {mends.slice(0, 50).map((mend) => (
                <li key={`${mend.at} ${mend.what}`}>
                  {stock.kind === 'performance' && (
                    <>
                      Byte {mend.at.toLocaleString('en')}
                      {mend.track !== undefined && `, track ${mend.track + 1}`}:{' '}
                    </>
                  )}
                  {mend.what}
                  {stock.kind === 'score' && '.'} {mend.done}
                </li>
              ))}
            </ul>
          }
        />
      )}
    </section>
  );
}
