import { App, Button, Drawer, Table, type TableColumnsType } from 'antd';
import { useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import {
  BadPrecedentsError,
  type Offer,
  type Precedent,
  parsePrecedents,
  precedentId,
  writePrecedents,
} from '../../core/cast/precedents';
import { instrumentOf, isInstrumentId } from '../../core/instruments/catalogue';
import { changePrecedents } from '../../store/precedents';
import { saveFile } from '../common/saveFile';
import { useSession } from '../job/session';
import styles from './RosterStage.module.css';
import { useOffers, usePrecedents } from './usePrecedents';

/** What a precedent decides, in words. */
function words({ instrument, part, out, into }: Precedent): string {
  return [
    part && `called ${part}`,
    instrument && isInstrumentId(instrument) && instrumentOf(instrument).name,
    into && `joined to “${into}”`,
    out && 'left out',
  ]
    .filter(Boolean)
    .join(', ');
}

/** Offers what was decided for strands of the same names in earlier jobs; nothing is done by itself. */
export function Precedents() {
  const { take } = useSession('take');
  const offers = useOffers();
  const all = usePrecedents();
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button
        disabled={all.length === 0}
        title={all.length === 0 ? 'Nothing was decided for a name yet' : undefined}
        onClick={() => setOpen(true)}
      >
        Precedents…
      </Button>
      {offers.length > 0 && (
        <section className={styles.offers} aria-label="Offered from earlier jobs">
          <header>
            <strong>{counted(offers.length, 'strand')} decided in earlier jobs</strong>
            <Button
              type="primary"
              size="small"
              onClick={() => take(...offers.flatMap(({ directives }) => directives))}
            >
              Take all
            </Button>
          </header>
          <ul>
            {offers.slice(0, MOST_SHOWN).map((offer) => (
              <OfferLine key={offer.strand} offer={offer} />
            ))}
          </ul>
          {offers.length > MOST_SHOWN && <p className="soft">and {offers.length - MOST_SHOWN} more</p>}
        </section>
      )}
      <Drawer title="Precedents" size={620} open={isOpen} onClose={() => setOpen(false)}>
        <Kept precedents={all} />
      </Drawer>
    </>
  );
}

/** More lines than this hide the parts. */
const MOST_SHOWN = 6;

function OfferLine({ offer: { precedent, directives } }: { offer: Offer }) {
  const { take } = useSession('take');
  return (
    <li>
      <span>“{precedent.name}”</span>
      <span>{words(precedent)}</span>
      <span className="soft">as in {precedent.job}</span>
      <Button size="small" aria-label={`Take it for ${precedent.name}`} onClick={() => take(...directives)}>
        Take
      </Button>
    </li>
  );
}

/** All that is kept: to look at, to forget, to save and to load. */
function Kept({ precedents }: { precedents: readonly Precedent[] }) {
  const { notification } = App.useApp();
  const [chosen, setChosen] = useState<React.Key[]>([]);
  const input = useRef<HTMLInputElement>(null);
  const change = (make: (now: Precedent[]) => Precedent[]) =>
    changePrecedents(make).catch((error: unknown) =>
      notification.error({ title: 'The precedents were not changed', description: (error as Error).message }),
    );
  const load = async (file: File) => {
    try {
      const read = parsePrecedents(await file.text());
      const ids = new Set(read.map(precedentId));
      await change((now) => [...now.filter((each) => !ids.has(precedentId(each))), ...read]);
    } catch (error) {
      if (!(error instanceof BadPrecedentsError)) throw error;
      notification.error({ title: `${file.name} was not taken in`, description: error.message });
    }
  };
  const columns: TableColumnsType<Precedent> = [
    { title: 'Strand', dataIndex: 'name', sorter: (a, b) => a.name.localeCompare(b.name), ellipsis: true },
    { title: 'Decided', key: 'words', render: (_, row) => words(row) },
    {
      title: 'In',
      dataIndex: 'job',
      sorter: (a, b) => a.job.localeCompare(b.job),
      ellipsis: true,
      width: 150,
    },
  ];
  return (
    <div className={styles.kept}>
      <div className={styles.keptTools}>
        <Button
          disabled={chosen.length === 0}
          title={chosen.length === 0 ? 'Tick some first' : undefined}
          onClick={() => {
            const gone = new Set(chosen);
            setChosen([]);
            void change((now) => now.filter((each) => !gone.has(precedentId(each))));
          }}
        >
          Forget
        </Button>
        <Button
          onClick={() =>
            saveFile('precedents.json', new Blob([writePrecedents(precedents)], { type: 'application/json' }))
          }
        >
          Save as a file
        </Button>
        <Button onClick={() => input.current?.click()}>Load a file…</Button>
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          hidden
          data-testid="precedents-input"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void load(file);
          }}
        />
      </div>
      <Table
        size="small"
        rowKey={precedentId}
        pagination={false}
        columns={columns}
        dataSource={[...precedents]}
        rowSelection={{ selectedRowKeys: chosen, onChange: setChosen }}
      />
    </div>
  );
}
