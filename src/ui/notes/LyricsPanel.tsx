import { Alert, Button, Checkbox, Input, Select, Table } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import { MOST_VERSES } from '../../core/decisions/kinds/sign';
import { divideText, type LaidSyllable } from '../../core/edit/lyrics';
import { WORD_LANGUAGES, type WordLanguage } from '../../core/edit/syllables';
import { instrumentOf } from '../../core/instruments/catalogue';
import type { PartId } from '../../core/model/ids';
import type { NoteOrigin, PartSummary } from '../../core/workbench/replies';
import { useOfScore, useSession } from '../job/session';
import styles from './LyricsPanel.module.css';
import { ToolRow } from './ToolRow';

const NAMES: Record<WordLanguage, string> = {
  en: 'English',
  de: 'German',
  fr: 'French',
  it: 'Italian',
  es: 'Spanish',
  la: 'Latin',
};

const isSung = ({ instrument }: PartSummary): boolean => instrumentOf(instrument).family === 'voice';

/** The language of the browser, where its words can be divided. */
const usualLanguage = (): WordLanguage =>
  WORD_LANGUAGES.find((language) => navigator.language.startsWith(language)) ?? 'en';

/** The part whose words are meant: that of the chosen notes, else the first that is sung, else the first in view. */
function meantPart(
  parts: readonly PartSummary[],
  shown: readonly PartId[],
  origins: readonly NoteOrigin[],
): PartSummary | undefined {
  const chosen = parts.find(({ strands }) => origins.some(({ strandId }) => strands.includes(strandId)));
  const inView = parts.filter(({ id }) => shown.includes(id));
  return chosen ?? inView.find(isSung) ?? inView[0] ?? parts[0];
}

interface BarOfWords {
  bar: number;
  text: string;
}

/** Syllables bar by bar, as they are typed. */
function byBars(laid: readonly LaidSyllable[]): BarOfWords[] {
  const out: BarOfWords[] = [];
  for (const { bar, text } of laid) {
    const last = out.at(-1);
    if (last?.bar !== bar) out.push({ bar, text });
    else last.text += text.startsWith('-') && last.text.endsWith('-') ? text.slice(1) : ` ${text}`;
  }
  return out;
}

/** Words under the notes of a part: written, pasted, divided, laid, taken off. */
export function LyricsPanel({
  shown,
  origins,
  onGo,
}: {
  shown: readonly PartId[];
  origins: readonly NoteOrigin[];
  onGo: (bar: number) => void;
}) {
  const { summary, take } = useSession('summary', 'take');
  const [chosenPart, setChosenPart] = useState<PartId | null>(null);
  const [verse, setVerse] = useState(1);
  const [slursHold, setSlursHold] = useState<boolean | null>(null);
  const [fits, setFits] = useState<boolean | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [language, setLanguage] = useState(usualLanguage);
  const parts = summary?.parts ?? [];
  const own = meantPart(parts, shown, origins);
  const part = origins.length > 0 ? own : (parts.find(({ id }) => id === chosenPart) ?? own);
  const slurs = slursHold ?? (part !== undefined && isSung(part));
  const notes = origins.map(({ id }) => id);
  const line = { part: part?.id, notes, verse, slurs };
  const { data: standing } = useOfScore(
    ['lyrics', line],
    (core, revision) => core.lyrics(revision, line),
    part !== undefined,
  );
  const text = typed ?? standing?.text ?? '';
  // Words that stand there already stay where they are.
  const fit = fits ?? standing?.text === '';
  const {
    data: laid,
    isOld,
    why,
  } = useOfScore(
    ['lyrics laid', line, text, fit],
    (core, revision) => core.layLyrics(revision, { ...line, text, fit }),
    part !== undefined && typed !== null,
  );
  if (!summary || !part) return null;
  const from = origins.length === 1 ? `from bar ${origins[0]?.bar} on` : `${origins.length} chosen notes`;
  const put = () => {
    if (!laid) return;
    take(...laid.directives);
    setTyped(null);
    if (laid.laid[0]) onGo(laid.laid[0].bar);
  };
  const bars = byBars(laid?.laid ?? []);
  return (
    <>
      <ToolRow name="Under">
        <Select
          size="small"
          className={styles.part}
          aria-label="Part with the words"
          showSearch={{ optionFilterProp: 'label' }}
          disabled={origins.length > 0}
          value={part.id}
          options={parts.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setChosenPart}
        />
        {origins.length > 0 && <span>{from}</span>}
      </ToolRow>
      <ToolRow name="Verse">
        <Select
          size="small"
          aria-label="Verse"
          value={verse}
          options={Array.from({ length: MOST_VERSES }, (_, at) => ({ value: at + 1, label: at + 1 }))}
          onChange={setVerse}
        />
        <Checkbox checked={slurs} onChange={({ target }) => setSlursHold(target.checked)}>
          Slurs hold a syllable
        </Checkbox>
      </ToolRow>
      <Input.TextArea
        aria-label="Words"
        placeholder="Type or paste the words, each line of the song on a line of its own."
        autoSize={{ minRows: 5, maxRows: 14 }}
        value={text}
        onChange={({ target }) => setTyped(target.value)}
      />
      <ToolRow name="Divide" label="Divide words into syllables">
        <Select
          size="small"
          aria-label="Language of the words"
          className={styles.language}
          value={language}
          options={WORD_LANGUAGES.map((value) => ({ value, label: NAMES[value] }))}
          onChange={setLanguage}
        />
        <Button size="small" disabled={text === ''} onClick={() => setTyped(divideText(text, language))}>
          Divide words
        </Button>
      </ToolRow>
      <Checkbox checked={fit} onChange={({ target }) => setFits(target.checked)}>
        Lines begin after rests
      </Checkbox>
      <p className="soft">
        <kbd>-</kbd> between syllables, <kbd>_</kbd> one more note, <kbd>*</kbd> skips a note, <kbd>~</kbd>{' '}
        two on one note.
      </p>
      {why !== null && <Alert type="error" title="The words could not be laid." description={why} />}
      {typed !== null && laid && (
        <p role="status">
          {counted(laid.laid.length, 'syllable')} under notes
          {laid.free > 0 && laid.laid.length > 0 && `, ${counted(laid.free, 'note')} after them free`}
          {laid.left.length > 0 && (
            <strong className="rubric">
              , {laid.left.length} without a note, from “{laid.left[0]}” on
            </strong>
          )}
          .{fit && !laid.isFitted && ' So long a text has the next note for each syllable.'}
        </p>
      )}
      <div className={styles.actions}>
        <Button
          type="primary"
          size="small"
          disabled={typed === null || !laid || isOld || laid.directives.length === 0}
          onClick={put}
        >
          {text.trim() === '' && typed !== null ? 'Take the words off' : 'Put under the notes'}
        </Button>
        {typed !== null && (
          <Button size="small" onClick={() => setTyped(null)}>
            Discard
          </Button>
        )}
      </div>
      {typed !== null && bars.length > 0 && (
        <Table
          size="small"
          virtual
          scroll={{ y: 180 }}
          pagination={false}
          rowKey="bar"
          dataSource={bars}
          columns={[
            { title: 'Bar', width: 52, align: 'right', render: (_, { bar }) => summary.bars[bar] },
            { title: 'Words', dataIndex: 'text' },
          ]}
        />
      )}
    </>
  );
}
