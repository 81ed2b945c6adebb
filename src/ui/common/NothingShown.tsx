interface Props {
  parts: number;
  className: string | undefined;
}

/** What a stage says that has no part to show. */
export function NothingShown({ parts, className }: Props) {
  return (
    <p className={className}>
      {parts === 0
        ? 'No strand is in the score. Take one in under Sources.'
        : 'No part is in view. Tick one at the left.'}
    </p>
  );
}
