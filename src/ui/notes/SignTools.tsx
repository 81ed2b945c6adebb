import { AutoComplete, Button } from 'antd';
import { type Ref, useMemo, useState } from 'react';
import { DYNAMIC_SIGNS, isSpanning, isWorded, SIGNS, type Sign, signName } from '../../core/model/signs';
import type { NoteOrigin } from '../../core/workbench/replies';
import { useSession } from '../job/session';
import styles from './NotesStage.module.css';
import { ToolRow } from './ToolRow';
import type { NoteEdit } from './useNoteEdits';

interface Choice {
  value: string;
  label: string;
  edit: NoteEdit;
}

const OWN_WORDS: Partial<Record<Sign, string>> = {
  accidental: 'accidental shown',
  beam: 'beam joined to the one before',
};

/** Everything that can be put at notes. @param many whether more than one is chosen */
function choicesFor(many: boolean): Choice[] {
  const signs = SIGNS.filter((sign) => !isWorded(sign) && (many || !isSpanning(sign)));
  return [
    ...signs.map((sign): Choice => {
      const label = OWN_WORDS[sign] ?? signName(sign);
      return { value: label, label, edit: { sign, put: true } };
    }),
    { value: 'beam broken', label: 'beam broken before it', edit: { sign: 'beam', put: false } },
    { value: 'accidental hidden', label: 'accidental hidden', edit: { sign: 'accidental', put: false } },
    ...DYNAMIC_SIGNS.map(
      (text): Choice => ({
        value: text,
        label: `dynamic ${text}`,
        edit: { sign: 'dynamic', put: true, text },
      }),
    ),
  ];
}

/** What is typed and names no sign can be a text over the staff. */
const wordsFor = (typed: string): Choice[] =>
  typed.trim() === ''
    ? []
    : [{ value: `text ${typed}`, label: `text “${typed}”`, edit: { sign: 'words', put: true, text: typed } }];

/** Puts signs at the chosen notes and takes them off. */
export function SignTools({
  many,
  origins,
  field,
  onEdit,
  onDone,
}: {
  /** More than one note is chosen. */
  many: boolean;
  origins: readonly NoteOrigin[];
  /** The field in which signs are typed. */
  field: Ref<{ focus: () => void }>;
  onEdit: (edit: NoteEdit) => void;
  /** A sign was put by keyboard: the notes have the keys again. */
  onDone: () => void;
}) {
  const { decisions } = useSession('decisions');
  const [typed, setTyped] = useState('');
  const all = useMemo(() => choicesFor(many), [many]);
  const wanted = typed.trim().toLowerCase();
  const named = all.filter(({ value, label }) => value === wanted || label.toLowerCase().includes(wanted));
  // A whole name comes first, then what begins with what was typed.
  const rank = ({ value, label }: Choice) => (value === wanted ? 0 : label.startsWith(wanted) ? 1 : 2);
  const shown = [...named.toSorted((a, b) => rank(a) - rank(b)), ...wordsFor(typed)];
  const standing = [...new Set(origins.flatMap(({ signs = [] }) => signs))].filter((sign) =>
    (SIGNS as readonly string[]).includes(sign),
  );
  const decided = origins.flatMap(({ id }) => (decisions.signs.get(id) ?? []).map((choice) => choice.sign));
  const put = (value: string) => {
    const choice = shown.find((each) => each.value === value);
    if (!choice) return;
    onEdit(choice.edit);
    setTyped('');
    onDone();
  };
  return (
    <ToolRow name="Sign" label="Signs">
      <div className={styles.signs}>
        <AutoComplete
          ref={field as Ref<never>}
          size="small"
          aria-label="Put a sign at the chosen notes"
          placeholder="Put a sign…"
          value={typed}
          defaultActiveFirstOption
          options={shown.map(({ value, label }) => ({ value, label }))}
          onSearch={setTyped}
          onSelect={(value: string) => put(value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') onDone();
          }}
        />
        {standing.length > 0 && (
          <div className={styles.tags} role="toolbar" aria-label="Signs there">
            {standing.map((sign) => (
              <Button
                key={sign}
                size="small"
                aria-label={`Take off ${signName(sign)}`}
                title="Take it off"
                onClick={() => onEdit({ sign, put: false })}
              >
                {signName(sign)} ×
              </Button>
            ))}
          </div>
        )}
        {decided.length > 0 && (
          <Button
            size="small"
            className={styles.start}
            onClick={() => {
              for (const sign of new Set(decided)) onEdit({ sign, put: null });
            }}
          >
            Signs as found
          </Button>
        )}
      </div>
    </ToolRow>
  );
}
