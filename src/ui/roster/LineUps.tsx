import { App, Button, Checkbox, Drawer, Input } from 'antd';
import { useLiveQuery } from 'dexie-react-hooks';
import { useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import {
  LINE_UPS,
  type LineUp,
  layLineUp,
  lineUpText,
  makeLineUp,
  readLineUp,
} from '../../core/cast/line-ups';
import type { SourceId } from '../../core/model/ids';
import { changeLineUps, listLineUps } from '../../store/line-ups';
import type { SourceEntry } from '../../store/rows';
import { saveFile } from '../common/saveFile';
import { useOfPerformance, useSession } from '../job/session';
import styles from './RosterStage.module.css';

const NONE: LineUp[] = [];

/** Standing sets of parts: laid over the parts of this job, kept from it, saved and loaded. */
export function LineUps() {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>Line-ups…</Button>
      <Drawer title="Line-ups" size={560} open={isOpen} onClose={() => setOpen(false)}>
        {isOpen && <Shelf />}
      </Drawer>
    </>
  );
}

/** The newest version of each source that does not lead. */
function useOtherSources(): SourceEntry[] {
  const { sources, stock } = useSession('sources', 'stock');
  return [...new Map(sources.map((each) => [each.source, each])).values()].filter(
    ({ source }) => source !== stock.source,
  );
}

function Shelf() {
  const { summary, inventory, decisions } = useSession('summary', 'inventory', 'decisions');
  const others = useOtherSources();
  const [keepsEmpty, setKeepsEmpty] = useState(true);
  const { notification } = App.useApp();
  const own = useLiveQuery(listLineUps) ?? NONE;
  const [name, setName] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const refuse = (title: string) => (error: unknown) =>
    notification.error({ title, description: (error as Error).message });
  const keep = (lineUp: LineUp) =>
    changeLineUps((now) => [...now.filter((each) => each.name !== lineUp.name), lineUp]).catch(
      refuse('The line-up was not kept'),
    );
  const ranges = new Map(
    inventory.strands.map((strand) => [strand.id, (strand.lowest + strand.highest) / 2]),
  );
  const parts = (summary?.parts ?? []).map((part) => ({
    strand: part.leader,
    name: part.name,
    instrument: part.instrument,
    middle: ranges.get(part.leader) ?? null,
  }));
  const load = async (file: File) => {
    try {
      await keep(readLineUp(await file.text()));
    } catch (error) {
      refuse(`${file.name} was not taken in`)(error);
    }
  };
  const wanted = name.trim();
  return (
    <div className={styles.kept}>
      <form
        className={styles.keptTools}
        onSubmit={(event) => {
          event.preventDefault();
          if (wanted === '' || parts.length === 0) return;
          void keep(makeLineUp(wanted, parts, decisions.brackets ? summary?.groups : undefined));
          setName('');
        }}
      >
        <Input
          aria-label="Name of a new line-up"
          placeholder="Name"
          maxLength={120}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <Button
          htmlType="submit"
          disabled={wanted === '' || parts.length === 0}
          title={wanted === '' ? 'Give it a name first' : undefined}
        >
          Keep these {counted(parts.length, 'part')}
        </Button>
        <Button onClick={() => input.current?.click()}>Load a file…</Button>
        <input
          ref={input}
          type="file"
          accept=".json"
          hidden
          data-testid="line-up-input"
          onChange={({ target }) => {
            const [file] = target.files ?? [];
            if (file) void load(file);
            target.value = '';
          }}
        />
      </form>
      <Checkbox checked={keepsEmpty} onChange={({ target }) => setKeepsEmpty(target.checked)}>
        Places that nobody takes become parts that rest
      </Checkbox>
      {others.length > 0 && (
        <>
          <h3>Of other sources of this job</h3>
          <ul className={styles.lineUps} aria-label="Line-ups of other sources">
            {others.map(({ source }) => (
              <OfSource key={source} source={source} parts={parts} keepsEmpty={keepsEmpty} />
            ))}
          </ul>
        </>
      )}
      {own.length > 0 && (
        <>
          <h3>Your own</h3>
          <ul className={styles.lineUps} aria-label="Your own line-ups">
            {own.map((lineUp) => (
              <LineUpRow
                key={lineUp.name}
                lineUp={lineUp}
                parts={parts}
                keepsEmpty={keepsEmpty}
                onForget={() =>
                  void changeLineUps((now) => now.filter((each) => each.name !== lineUp.name)).catch(
                    refuse('The line-up was not forgotten'),
                  )
                }
              />
            ))}
          </ul>
        </>
      )}
      <h3>Built-in</h3>
      <ul className={styles.lineUps} aria-label="Built-in line-ups">
        {LINE_UPS.map((lineUp) => (
          <LineUpRow key={lineUp.name} lineUp={lineUp} parts={parts} keepsEmpty={keepsEmpty} />
        ))}
      </ul>
    </div>
  );
}

/** The parts of another source, as the template in which the work goes on. */
function OfSource({ source, ...row }: { source: SourceId } & Pick<RowProps, 'parts' | 'keepsEmpty'>) {
  const { data } = useOfPerformance(['line-up', source], (core) => core.lineUpOf({ source }));
  return data ? <LineUpRow lineUp={data} {...row} /> : null;
}

interface RowProps {
  lineUp: LineUp;
  parts: Parameters<typeof layLineUp>[1];
  keepsEmpty: boolean;
  onForget?: () => void;
}

/** A line-up, and what laying it over the parts of this job would do. */
function LineUpRow({ lineUp, parts, keepsEmpty, onForget }: RowProps) {
  const { take } = useSession('take');
  const { message } = App.useApp();
  const { places, over, directives } = layLineUp(lineUp, parts, keepsEmpty);
  const empty = lineUp.parts.filter((_, at) => !places[at]).map(({ name }) => name);
  const filled = lineUp.parts.length - empty.length;
  return (
    <li>
      <div>
        <strong>{lineUp.name}</strong>{' '}
        <span className="soft">
          {filled === lineUp.parts.length
            ? `all ${counted(filled, 'place')} filled`
            : `${filled} of ${counted(lineUp.parts.length, 'place')} filled`}
          {over.length > 0 && `, ${counted(over.length, 'part')} after it`}
        </span>
        {empty.length > 0 && filled > 0 && (
          <p className="soft">
            No part plays {empty.slice(0, MOST_NAMED).join(', ')}
            {empty.length > MOST_NAMED && ` and ${empty.length - MOST_NAMED} more`}.
          </p>
        )}
      </div>
      <div className={styles.keptTools}>
        <Button
          size="small"
          disabled={filled === 0}
          title={filled === 0 ? 'No part fits any of its places' : undefined}
          aria-label={`Lay ${lineUp.name} over the parts`}
          onClick={() => {
            take(...directives);
            message.success(`${lineUp.name}: ${counted(filled, 'place')} filled.`);
          }}
        >
          Lay over
        </Button>
        <Button
          size="small"
          aria-label={`Save ${lineUp.name} as a file`}
          onClick={() => saveFile(`${lineUp.name}.line-up.json`, new Blob([lineUpText(lineUp)]))}
        >
          Save
        </Button>
        {onForget && (
          <Button size="small" aria-label={`Forget ${lineUp.name}`} onClick={onForget}>
            Forget
          </Button>
        )}
      </div>
    </li>
  );
}

/** More empty places than this are counted, not named. */
const MOST_NAMED = 4;
