import { Button, Select } from 'antd';
import { useState } from 'react';
import type { PlainDirective } from '../../core/decisions/kinds';
import { TECHNIQUE_NAMES } from '../../core/instruments/name-techniques';
import { pieceId, type StrandId, wholeStrand } from '../../core/model/ids';
import type { StrandEntry } from '../../core/stock/inventory';
import { ManyStrands } from '../common/ManyStrands';
import { useSession } from '../job/session';
import { DivideDialog } from './DivideDialog';

/** A strand with several programs is one part, with a text where its playing changes. */
function programsAsTexts({ id, programs }: StrandEntry): PlainDirective[] {
  const pieces = new Set(programs).size;
  return [
    { kind: 'split', strand: id, by: 'program' },
    ...Array.from({ length: pieces - 1 }, (_, at) => ({
      kind: 'join' as const,
      strand: pieceId(id, at + 2),
      into: id,
    })),
  ];
}

/** What can be done to the chosen strands. */
export function RoutingTools({ chosen, clear }: { chosen: readonly StrandEntry[]; clear: () => void }) {
  const { decisions, take } = useSession('decisions', 'take');
  const [isDividing, setDividing] = useState(false);
  if (chosen.length === 0)
    return <span className="soft">Tick strands, or drag one onto the part that it goes into.</span>;
  const isSingle = chosen.every(({ most }) => most < 2);
  const mixed = chosen.filter(({ programs }) => new Set(programs).size > 1);
  const cut = [...new Set(chosen.map(({ id }) => wholeStrand(id)))].filter(
    (id) => decisions.strands.get(id)?.split?.by,
  );
  const whole = (id: StrandId): PlainDirective => ({ kind: 'split', strand: id, by: null });
  return (
    <>
      <ManyStrands chosen={chosen.map(({ id }) => id)}>
        <Select
          size="small"
          aria-label="How all chosen are played"
          placeholder="Played…"
          value={null}
          style={{ width: 110 }}
          popupMatchSelectWidth={false}
          options={['as named', 'ordinary', ...TECHNIQUE_NAMES].map((value) => ({ value, label: value }))}
          onChange={(value: string | null) =>
            value &&
            take(
              ...chosen.map(({ id }) => ({
                kind: 'technique' as const,
                strand: id,
                technique: value === 'as named' ? null : value,
              })),
            )
          }
        />
        <Button
          size="small"
          disabled={isSingle}
          title={isSingle ? 'One note at a time is one player’s already' : undefined}
          onClick={() => setDividing(true)}
        >
          Divide…
        </Button>
        {mixed.length > 0 && (
          <Button size="small" onClick={() => take(...mixed.flatMap(programsAsTexts))}>
            Programs as texts
          </Button>
        )}
        {cut.length > 0 && (
          <Button size="small" onClick={() => take(...cut.map(whole))}>
            Whole again
          </Button>
        )}
        <Button size="small" type="text" onClick={clear}>
          None
        </Button>
      </ManyStrands>
      {isDividing && <DivideDialog strands={chosen} onClose={() => setDividing(false)} />}
    </>
  );
}
