import styles from './RosterStage.module.css';

/** Height of a line at either side and width between them, as the style sheet has them. */
const LINE = 38;
const WIDTH = 56;

/**
 * Which strand goes into which part: a line from each to each.
 *
 * @param links places of strand and part in their lists
 */
export function Connections({
  links,
  strands,
  parts,
}: {
  links: readonly { from: number; to: number; isChosen: boolean }[];
  strands: number;
  parts: number;
}) {
  const height = Math.max(strands, parts) * LINE;
  return (
    <svg className={styles.links} width={WIDTH} height={height} aria-hidden="true" focusable="false">
      {links.map(({ from, to, isChosen }) => {
        const [y1, y2] = [(from + 0.5) * LINE, (to + 0.5) * LINE];
        const path = `M0 ${y1} C${WIDTH / 2} ${y1} ${WIDTH / 2} ${y2} ${WIDTH} ${y2}`;
        return <path key={`${from} ${to}`} d={path} className={isChosen ? styles.chosenLink : undefined} />;
      })}
    </svg>
  );
}
