import { Button } from 'antd';
import { counted } from '../../core/basics/words';
import type { BeatSheet } from '../../core/workbench/beat-sheet';
import { useSession } from '../job/session';
import styles from './TimeStage.module.css';
import { oddsWords } from './words';

/** The meters that the accents suggest, to take one of them with its upbeat, or to go back to the file's. */
export function MeterChoices({ meters }: Pick<BeatSheet, 'meters'>) {
  const { decisions, take } = useSession('decisions', 'take');
  const best = meters[0]?.worth ?? 0;
  const taken = decisions.meter;
  return (
    <>
      {meters.length > 0 && <h3>Meter, by the accents</h3>}
      {meters.map(({ meter: { numerator, denominator }, upbeatEighths, worth }, index) => (
        <Button
          key={`${numerator}/${denominator}`}
          size="small"
          className={styles.meter}
          disabled={taken?.numerator === numerator && taken.denominator === denominator}
          onClick={() => take({ kind: 'meter', numerator, denominator, upbeatQuarters: upbeatEighths / 2 })}
        >
          {numerator}/{denominator}
          {upbeatEighths > 0 && `, upbeat of ${counted(upbeatEighths, 'eighth')}`}
          <span className="soft">{index === 0 ? firstWords(best) : oddsWords(-worth)}</span>
        </Button>
      ))}
      {taken && (
        <Button
          size="small"
          onClick={() => take({ kind: 'meter', numerator: null, denominator: 4, upbeatQuarters: 0 })}
        >
          The file’s meter
        </Button>
      )}
    </>
  );
}

/** Below this two meters are as good as each other. */
const CLEAR = 1.5;
const firstWords = (worth: number): string => (worth < CLEAR ? 'fits, but not clearly' : 'fits best');
