import { Select } from 'antd';
import { instrumentOf } from '../../core/instruments/catalogue';
import { keyName } from '../../core/model/pitch';
import type { NoteOrigin, PartSummary } from '../../core/workbench/replies';
import { useSession } from '../job/session';

/** No string has this number. */
const ANY = 0;

/** On which string a note is stopped; its fret follows. */
export function StringPicker({ origin, part }: { origin: NoteOrigin; part: PartSummary }) {
  const { decisions, take } = useSession('decisions', 'take');
  const tuning = part.frets?.tuning ?? instrumentOf(part.instrument).tuning ?? [];
  const stop = origin.written?.stop;
  return (
    <p>
      <Select
        size="small"
        aria-label="String of the note"
        style={{ width: 150 }}
        value={decisions.strings.get(origin.id) ?? ANY}
        options={[
          { value: ANY, label: 'Any string' },
          ...tuning.map((key, at) => ({
            value: tuning.length - at,
            label: `String ${tuning.length - at}, ${keyName(key)}`,
          })),
        ]}
        onChange={(string: number) =>
          take({ kind: 'string', note: origin.id, string: string === ANY ? null : string })
        }
      />{' '}
      <span>{stop ? `string ${stop.string}, fret ${stop.fret}` : 'cannot be stopped here'}</span>
    </p>
  );
}
