import { Select } from 'antd';
import { AS_FOUND } from '../../core/decisions/kinds/clef';
import { CLEF_NAMES, isPitchedClef, PITCHED_CLEFS } from '../../core/model/clefs';
import type { NoteOrigin, PartSummary } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import { ToolRow } from './ToolRow';

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const CHOICES = [
  ...PITCHED_CLEFS.map((value) => ({ value, label: capital(CLEF_NAMES[value]) })),
  { value: AS_FOUND, label: 'As found' } as const,
];

/** The clef of the staff from a chosen note on, or for several as far as they go. */
export function ClefTool({ origins, part }: { origins: readonly NoteOrigin[]; part: PartSummary }) {
  const { take } = useSession('take');
  const written = origins.filter(({ line, span }) => line && span && isPitchedClef(line.clef));
  const [first] = written;
  const staves = new Set(written.map(({ line }) => line?.staff));
  if (!first?.line || !first.span || staves.size > 1) return null;
  const { staff, clef } = first.line;
  const from = Math.min(...written.map(({ span }) => span!.from));
  const to = Math.max(...written.map(({ span }) => span!.to));
  const clefs = new Set(written.map(({ line }) => line?.clef));
  return (
    <ToolRow name="Clef">
      <Select
        size="small"
        style={{ width: 104 }}
        popupMatchSelectWidth={false}
        aria-label={origins.length === 1 ? 'Clef from this note on' : 'Clef of these notes'}
        value={clefs.size === 1 && isPitchedClef(clef) ? clef : undefined}
        placeholder="mixed"
        showSearch={{ optionFilterProp: 'label' }}
        options={CHOICES}
        onChange={(wanted) =>
          take({
            kind: 'clef',
            strand: part.leader,
            clef: wanted,
            ...(staff > 1 && { staff }),
            ...(from > 0 && { from }),
            ...(origins.length > 1 && { to }),
          })
        }
      />
      <span className="soft">{origins.length === 1 ? 'from here on' : 'for these notes'}</span>
    </ToolRow>
  );
}
