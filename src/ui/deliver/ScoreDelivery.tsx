'use client';

import { DownloadOutlined } from '@ant-design/icons';
import { Alert, App, Button, Checkbox, Input, Radio, Select } from 'antd';
import { useState } from 'react';
import { counted } from '../../core/basics/words';
import type { ScoreFormChoice } from '../../core/decisions/kinds/score-form';
import type { StrandId } from '../../core/model/ids';
import { unaccounted } from '../../core/transcribe';
import { EditableText } from '../common/EditableText';
import { saveFile } from '../common/saveFile';
import { useSession } from '../job/session';
import styles from './DeliverStage.module.css';

type Format = 'mxl' | 'musicxml';

/** Hands the score over, with an account of what became of the source's notes. */
export function ScoreDelivery() {
  const {
    job,
    summary,
    behind,
    stopped,
    latestBrief,
    core,
    inventory,
    take,
    amend,
    stock,
    history,
    decisions,
  } = useSession(
    'job',
    'summary',
    'behind',
    'stopped',
    'latestBrief',
    'core',
    'inventory',
    'take',
    'amend',
    'stock',
    'history',
    'decisions',
  );
  const form = decisions.scoreForm;
  const set = (some: Partial<ScoreFormChoice>) =>
    amend(({ scoreForm }) => [{ kind: 'score-form', ...scoreForm, ...some }]);
  const { notification } = App.useApp();
  const [format, setFormat] = useState<Format>('musicxml');
  const [name, setName] = useState(() => job.sourceName.replace(/\.[^.]+$/, ''));
  const [busy, setBusy] = useState(false);
  const [wanted, setWanted] = useState<StrandId[]>([]);
  const [each, setEach] = useState(false);
  const chosen = summary?.parts.filter(({ leader }) => wanted.length === 0 || wanted.includes(leader)) ?? [];

  // A score that is being written again is handed over as it will be; which parts it has is not known before.
  const isComing = summary !== null && !stopped && wanted.length === 0;
  const why =
    (isComing ? null : behind) ??
    (summary?.parts.length === 0
      ? 'No strand is in the score.'
      : !name.trim()
        ? 'The file needs a name.'
        : null);

  const download = async () => {
    setBusy(true);
    try {
      const bytes = await core.deliver(
        { format, each, ...(wanted.length > 0 && { parts: chosen.map(({ id }) => id) }) },
        await latestBrief(),
      );
      const type = each
        ? 'application/zip'
        : format === 'mxl'
          ? 'application/vnd.recordare.musicxml'
          : 'application/vnd.recordare.musicxml+xml';
      saveFile(`${name.trim()}.${each ? 'zip' : format}`, new Blob([bytes as BlobPart], { type }));
    } catch (error) {
      notification.error({ title: 'The file was not written', description: (error as Error).message });
    } finally {
      setBusy(false);
    }
  };

  /** Notes of which no line of the account says what became of them. */
  const missing =
    summary && stock.revision === summary.revision
      ? stock.notes +
        stock.added +
        stock.shared -
        stock.removed -
        summary.account.notes +
        unaccounted(summary.account)
      : 0;

  const saveFacts = () => {
    const facts = { stock, account: summary?.account, brief: history.brief };
    saveFile(`${job.sourceName} facts.json`, new Blob([JSON.stringify(facts, null, 1)]));
  };

  return (
    <div className={styles.sheets}>
      <section className={styles.sheet}>
        <h1>MusicXML for the notation program</h1>
        <div className={styles.field}>
          <span>Title of the score</span>
          <EditableText
            value={summary?.title ?? ''}
            label="Title of the score"
            placeholder="No title"
            mayBeEmpty
            onSave={(title) => take({ kind: 'title', title })}
          />
        </div>
        <div className={styles.field}>
          <span>Composer</span>
          <EditableText
            value={summary?.composer ?? ''}
            label="Composer"
            placeholder="Nobody named"
            mayBeEmpty
            onSave={(composer) => take({ kind: 'credits', composer })}
          />
        </div>
        <div className={styles.field}>
          <span>Copyright</span>
          <EditableText
            value={summary?.copyright ?? ''}
            label="Copyright"
            placeholder="None"
            mayBeEmpty
            onSave={(copyright) => take({ kind: 'credits', copyright })}
          />
        </div>
        <Checkbox checked={form.cues ?? false} onChange={(event) => set({ cues: event.target.checked })}>
          Cues in parts: what others play before entries after eight bars of rest and more
        </Checkbox>
        <label className={styles.field}>
          <span>File name</span>
          <Input
            value={name}
            onChange={(event) => setName(event.target.value)}
            maxLength={120}
            suffix={each ? '.zip' : `.${format}`}
          />
        </label>
        <Radio.Group
          value={format}
          onChange={(event) => setFormat(event.target.value as Format)}
          aria-label="Form"
          options={[
            { value: 'musicxml', label: 'Plain (.musicxml), opens everywhere' },
            { value: 'mxl', label: 'Compressed (.mxl), a tenth of the size' },
          ]}
        />
        <Radio.Group
          value={form.pitch}
          onChange={(event) => set({ pitch: event.target.value as ScoreFormChoice['pitch'] })}
          aria-label="Pitches"
          options={[
            { value: 'written', label: 'Each part as its player reads it' },
            { value: 'concert', label: 'All in concert pitch' },
          ]}
        />
        <Select
          mode="multiple"
          allowClear
          value={wanted}
          placeholder="All parts"
          aria-label="Parts"
          maxTagCount={6}
          options={summary?.parts.map(({ leader, name: label }) => ({ value: leader, label })) ?? []}
          onChange={setWanted}
        />
        <Radio.Group
          value={each}
          onChange={(event) => setEach(event.target.value as boolean)}
          aria-label="Score or parts"
          options={[
            { value: false, label: 'One score' },
            { value: true, label: 'One file a part, numbered, in a zip' },
          ]}
        />
        {stock.kind === 'score' && (
          <Radio.Group
            value={form.layout}
            onChange={(event) => set({ layout: event.target.value as ScoreFormChoice['layout'] })}
            aria-label="Layout"
            options={[
              { value: 'kept', label: 'Pages laid out as they came' },
              { value: 'left-out', label: 'Without breaks, places and fonts: whoever opens it lays it out' },
            ]}
          />
        )}
        <div className={styles.go}>
          <Button
            type="primary"
            icon={<DownloadOutlined />}
            loading={busy}
            disabled={why !== null}
            onClick={() => void download()}
          >
            Download
          </Button>
          {why && <span className="soft">{why}</span>}
        </div>
      </section>
      {summary && (
        <section className={styles.sheet} aria-label="Account">
          <h2>What became of the notes</h2>
          <table className={styles.account}>
            <tbody>
              <Line count={stock.notes} what="notes in the source" total />
              {stock.added > 0 && <Line count={stock.added} what="added by hand" total />}
              {stock.shared > 0 && (
                <Line count={stock.shared} what="shared by players: one more for each further player" total />
              )}
              <Line
                count={summary.account.written}
                what={`written, in ${counted(summary.parts.length, 'part')} and ${counted(summary.bars.length, 'bar')}`}
              />
              <Line
                count={summary.account.merged}
                what={
                  stock.kind === 'score'
                    ? 'played again where the score repeats, or held on by a tie'
                    : 'struck together with the same key of the same part: one written note serves both'
                }
              />
              {summary.account.marks > 0 && (
                <Line
                  count={summary.account.marks}
                  what="turned into a mark: strokes of tremolos and trills, which one note stands for"
                />
              )}
              <Line count={summary.account.graces} what="written as grace notes" />
              <Line count={stock.removed} what="taken out by cleaning" />
              <Line count={summary.account.leftOut} what="left out with their strands" />
              <Line
                count={summary.account.unwritable}
                what="below C0 or above B9, as key switches are: no staff can hold them"
              />
              {summary.account.beyond > 0 && (
                <Line
                  count={summary.account.beyond}
                  what="past the point to which the source’s time can be believed"
                />
              )}
            </tbody>
          </table>
          {summary.folded && (
            <p>
              Repeats are folded: {counted(summary.folded.bars, 'bar')} on paper for {summary.bars.length}{' '}
              that are played. {counted(summary.folded.again, 'note')} of the source{' '}
              {summary.folded.again === 1 ? 'is' : 'are'} read where others are.
            </p>
          )}
          {missing !== 0 && (
            <Alert
              type="error"
              title={`This does not add up: ${counted(Math.abs(missing), 'note')} ${missing > 0 ? 'are missing' : 'are counted twice'}`}
              description={
                <>
                  <p>
                    That is a fault of Dragoman, not of your file. Look for them before you hand the score
                    over, and send the facts of the file with your complaint.
                  </p>
                  <Button onClick={saveFacts}>Save the facts</Button>
                </>
              }
            />
          )}
          {inventory.lyrics > 0 && (
            <p className="soft">
              {counted(inventory.lyrics - summary.lostLyrics, 'syllable')} hung under their notes
              {summary.lostLyrics > 0 && `; ${summary.lostLyrics} found no note`}.
            </p>
          )}
          <p className="soft">
            Velocities, controllers and pitch bends stay in the source: MusicXML is not given them.
          </p>
        </section>
      )}
    </div>
  );
}

function Line({ count, what, total = false }: { count: number; what: string; total?: boolean }) {
  return (
    <tr className={total ? styles.total : undefined}>
      <td className="figures">{count.toLocaleString('en')}</td>
      <td>{what}</td>
    </tr>
  );
}
