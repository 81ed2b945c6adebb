import { usePlayback } from '../playback/playback';
import styles from './NoteBars.module.css';
import type { Strip } from './view';

/** A strand's name at the left of its strip, with how it is heard. */
export function StripName({
  strip,
  isActive,
  onPick,
}: {
  strip: Strip;
  isActive: boolean;
  onPick: () => void;
}) {
  const { hearing, hear } = usePlayback();
  const { strand } = strip;
  const { muted = false, solo = false } = hearing.get(strand.id) ?? {};
  const label = strand.piece ? `${strand.part}, ${strand.piece}` : strand.part;
  return (
    <div
      className={styles.name}
      data-active={isActive}
      data-out={strand.out}
      style={{ top: strip.top, height: strip.height + 1 }}
    >
      <button type="button" className={styles.pick} title={`${label} (${strand.name})`} onClick={onPick}>
        {label || strand.id}
      </button>
      <button
        type="button"
        className={styles.toggle}
        aria-pressed={muted}
        aria-label={`Mute ${label}`}
        onClick={() => hear([strand.id], { muted: !muted })}
      >
        mute
      </button>
      <button
        type="button"
        className={styles.toggle}
        aria-pressed={solo}
        aria-label={`Hear ${label} alone`}
        onClick={() => hear([strand.id], { solo: !solo })}
      >
        solo
      </button>
    </div>
  );
}
