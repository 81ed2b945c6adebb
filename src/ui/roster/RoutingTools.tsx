import { Button, Select } from 'antd';
import { useState } from 'react';
import type { PlainDirective } from '../../core/decisions/kinds';
import { instrumentOf } from '../../core/instruments/catalogue';
import { TECHNIQUE_NAMES } from '../../core/instruments/name-techniques';
import { pieceId, type StrandId, wholeStrand } from '../../core/model/ids';
import type { StrandEntry } from '../../core/stock/inventory';
import { ManyStrands } from '../common/ManyStrands';
import { useSession } from '../job/session';
import { BracketMenu } from './BracketMenu';
import { DivideDialog } from './DivideDialog';
import { PlayersDialog } from './PlayersDialog';
import { strandName } from './StrandList';
import { SwitchesDialog } from './SwitchesDialog';

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
  const { decisions, inventory, stock, take } = useSession('decisions', 'inventory', 'stock', 'take');
  const [open, setOpen] = useState<'chairs' | 'players' | 'switches' | null>(null);
  const close = () => setOpen(null);
  if (chosen.length === 0)
    return <span className="soft">Tick strands, or drag one onto the part that it goes into.</span>;
  const isScore = stock.kind === 'score';
  const [only] = chosen;
  const isPercussion =
    chosen.length === 1 &&
    instrumentOf(decisions.strands.get(only!.id)?.instrument ?? only!.guess.id).unpitched;
  // A score says by words and voices who plays, though one note sounds at a time.
  const isSingle = !isScore && !isPercussion && chosen.every(({ most }) => most < 2);
  const switches =
    chosen.length === 1
      ? inventory.oddities.find(({ kind, strand }) => kind === 'key-switches' && strand === only!.id)
          ?.switches
      : undefined;
  const areAgain = chosen.every(({ id }) => decisions.strands.get(id)?.again);
  const mixed = chosen.filter(({ programs }) => new Set(programs).size > 1);
  const cut = [...new Set(chosen.map(({ id }) => wholeStrand(id)))].filter(
    (id) => decisions.strands.get(id)?.split?.by,
  );
  const whole = (id: StrandId): PlainDirective => ({ kind: 'split', strand: id, by: null });
  return (
    <>
      <ManyStrands chosen={chosen.map(({ id }) => id)}>
        {!isScore && (
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
        )}
        {isScore && (
          <Button
            size="small"
            title={
              areAgain
                ? 'The part as its document has it'
                : 'Values, rests, ties, voices and spelling anew, from its notes at their written times; marks and lyrics go along'
            }
            onClick={() =>
              take(...chosen.map(({ id }) => ({ kind: 'again' as const, strand: id, again: !areAgain })))
            }
          >
            {areAgain ? 'As it came' : 'Write again'}
          </Button>
        )}
        <Button
          size="small"
          disabled={isSingle}
          title={isSingle ? 'One note at a time is one player’s already' : undefined}
          onClick={() => setOpen(isPercussion ? 'players' : 'chairs')}
        >
          Divide…
        </Button>
        <BracketMenu chosen={chosen.map(({ id }) => id)} />
        {switches && (
          <Button size="small" onClick={() => setOpen('switches')}>
            Key switches…
          </Button>
        )}
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
      {open === 'chairs' && <DivideDialog strands={chosen} onClose={close} />}
      {open === 'players' && only && (
        <PlayersDialog strand={only.id} name={strandName(only)} onClose={close} />
      )}
      {open === 'switches' && only && switches && (
        <SwitchesDialog strand={only.id} name={strandName(only)} switches={switches} onClose={close} />
      )}
    </>
  );
}
