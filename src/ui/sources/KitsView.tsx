'use client';

import { App, Button, Input, InputNumber, Select, Space, Table, type TableColumnsType } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { decidedFor } from '../../core/decisions/decisions';
import type { PlainDirective } from '../../core/decisions/kinds';
import { DRUM_HEADS, type DrumChoice, type DrumHead } from '../../core/decisions/kinds/drum';
import { drumLayout, drumSound, hasOneLowKick, KIT } from '../../core/instruments/kit';
import {
  BadKitError,
  GENERAL_MIDI_KIT,
  type KeyMove,
  type KitMap,
  kitMapToCsv,
  parseKitMap,
  translateByName,
} from '../../core/instruments/kit-map';
import type { StrandId } from '../../core/model/ids';
import { spelledStrand } from '../../core/model/ids';
import { keyName } from '../../core/model/pitch';
import type { KitKey, KitUse } from '../../core/stock/kits';
import { keepDrums, keptDrums } from '../../store/drums';
import { dropKit, keepKit, listKitMaps } from '../../store/kits';
import { saveFile } from '../common/saveFile';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';

const SOUNDS = KIT.map(({ key, name }) => ({ value: key, label: `${key} ${name}` }));

/** Lines and spaces from the second ledger line below to the second above, as a treble clef names them. */
const PLACES = [
  ['A3', 'ledger line 2 below'],
  ['B3', 'below ledger line 1'],
  ['C4', 'ledger line 1 below'],
  ['D4', 'below the staff'],
  ['E4', 'line 1'],
  ['F4', 'space 1'],
  ['G4', 'line 2'],
  ['A4', 'space 2'],
  ['B4', 'line 3'],
  ['C5', 'space 3'],
  ['D5', 'line 4'],
  ['E5', 'space 4'],
  ['F5', 'line 5'],
  ['G5', 'above the staff'],
  ['A5', 'ledger line 1 above'],
  ['B5', 'above ledger line 1'],
  ['C6', 'ledger line 2 above'],
  ['D6', 'above ledger line 2'],
  ['E6', 'ledger line 3 above'],
]
  .toReversed()
  .map(([value, label]) => ({ value: value!, label: label! }));

/** Drum strands key by key, and their translation to General MIDI. */
export function KitsView() {
  const { kits } = useSession('kits');
  const [at, setAt] = useState(0);
  const kit = kits[Math.min(at, kits.length - 1)];
  if (!kit) return <p className="soft">The source has no drums.</p>;
  return (
    <>
      {kits.length > 1 && (
        <Select
          aria-label="Drum strand"
          style={{ width: 260, marginTop: 8 }}
          value={kit.strand}
          options={kits.map((each) => ({
            value: each.strand,
            label: each.name || spelledStrand(each.strand),
          }))}
          onChange={(strand: StrandId) => setAt(kits.findIndex((each) => each.strand === strand))}
        />
      )}
      <OneKit key={kit.strand} kit={kit} />
    </>
  );
}

function OneKit({ kit }: { kit: KitUse }) {
  const { take, decisions } = useSession('take', 'decisions');
  const { notification, message } = App.useApp();
  const [maps, setMaps] = useState<KitMap[]>([]);
  const [shift, setShift] = useState(12);
  const [name, setName] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const height = useHeight(374);

  useEffect(() => {
    void listKitMaps().then(setMaps);
  }, []);

  const move = (keys: KeyMove[]) => take({ kind: 'kit', strand: kit.strand, keys });
  const current = kit.keys.filter(({ key, to }) => key !== to).map(({ key, to }) => ({ from: key, to }));
  const shiftAll = (by: number) =>
    move(
      kit.keys
        .filter(({ key }) => key + by >= 0 && key + by <= 127)
        .map(({ key }) => ({ from: key, to: key + by })),
    );
  const byName = (map: KitMap) => {
    const { keys, missing } = translateByName(map, GENERAL_MIDI_KIT);
    move(keys);
    if (missing.length > 0)
      message.warning(
        `${counted(missing.length, 'sound')} of ${map.name} have no counterpart: ${missing.join(', ')}.`,
      );
  };
  const asMap = (): KitMap => ({
    format: 'dragoman-kit',
    version: 1,
    name: name.trim() || kit.name || 'Kit',
    sounds: kit.keys.map(({ key, to }) => ({ key, name: drumSound(to).name })),
  });
  const load = async (file: File) => {
    try {
      const map = parseKitMap(await file.text(), file.name.replace(/\.[^.]+$/, ''));
      setMaps(await keepKit(map));
      message.success(`${map.name}: ${counted(map.sounds.length, 'sound')}.`);
    } catch (error) {
      const why = error instanceof BadKitError ? error.message : 'It could not be kept.';
      notification.error({ title: `${file.name} was not taken in`, description: why });
    }
  };

  const columns: TableColumnsType<KitKey> = [
    {
      title: 'Key',
      dataIndex: 'key',
      width: 90,
      sorter: (a, b) => a.key - b.key,
      render: (key: number) => `${key} · ${keyName(key)}`,
    },
    { title: 'Strokes', dataIndex: 'count', width: 90, align: 'right', sorter: (a, b) => a.count - b.count },
    {
      title: 'As General MIDI it is',
      key: 'means',
      width: 220,
      render: (_, { key }) => <span className="soft">{drumSound(key).name}</span>,
    },
    {
      title: 'Becomes',
      key: 'to',
      width: 260,
      render: (_, row) => (
        <Select
          size="small"
          showSearch
          optionFilterProp="label"
          style={{ width: 230 }}
          aria-label={`Key ${row.key} becomes`}
          value={row.to}
          options={
            SOUNDS.some(({ value }) => value === row.to)
              ? SOUNDS
              : [{ value: row.to, label: `${row.to}` }, ...SOUNDS]
          }
          onChange={(to: number) =>
            move([...current.filter(({ from }) => from !== row.key), { from: row.key, to }])
          }
        />
      ),
    },
  ];
  const layout = drumLayout(
    decidedFor(decisions, kit.strand).drums,
    hasOneLowKick(kit.keys.map(({ to }) => to)),
  );
  /** A sound is written so in all drum parts. */
  const write = (key: number, change: Partial<DrumChoice>) => {
    const { place, head, foot } = layout(key);
    const now = { place: `${place.step}${place.octave}`, head: head as DrumHead, foot };
    take({ kind: 'drum', key, ...now, ...change });
  };
  const ownLayout = [...(decidedFor(decisions, kit.strand).drums ?? [])].map(
    ([key, choice]): PlainDirective => ({ kind: 'drum', key, ...choice }),
  );
  columns.push(
    {
      title: 'Place',
      key: 'place',
      width: 174,
      render: (_, { to }) => {
        const { place } = layout(to);
        return (
          <Select
            size="small"
            style={{ width: 160 }}
            aria-label={`Place of ${drumSound(to).name}`}
            value={`${place.step}${place.octave}`}
            options={PLACES}
            onChange={(value: string) => write(to, { place: value })}
          />
        );
      },
    },
    {
      title: 'Head',
      key: 'head',
      width: 104,
      render: (_, { to }) => (
        <Select<DrumHead>
          size="small"
          style={{ width: 90 }}
          aria-label={`Head of ${drumSound(to).name}`}
          value={layout(to).head as DrumHead}
          options={DRUM_HEADS.map((value) => ({ value, label: value }))}
          onChange={(head) => write(to, { head })}
        />
      ),
    },
    {
      title: 'By',
      key: 'foot',
      width: 100,
      render: (_, { to }) => (
        <Select
          size="small"
          style={{ width: 84 }}
          aria-label={`Who plays ${drumSound(to).name}`}
          value={layout(to).foot}
          options={[
            { value: false, label: 'hands' },
            { value: true, label: 'feet' },
          ]}
          onChange={(foot: boolean) => write(to, { foot })}
        />
      ),
    },
  );
  return (
    <>
      <div className={styles.tools}>
        <Button
          size="small"
          disabled={ownLayout.length === 0}
          onClick={() => take(...ownLayout.map((each) => ({ ...each, place: null }) as PlainDirective))}
        >
          Usual places
        </Button>
        <Button
          size="small"
          disabled={ownLayout.length === 0}
          title="For jobs to come"
          onClick={() => void keepDrums(ownLayout).then(() => message.success('The places are kept.'))}
        >
          Keep the places
        </Button>
        <Button
          size="small"
          onClick={() =>
            void keptDrums().then((kept) => {
              if (kept.length > 0) take(...kept);
              else message.info('No places are kept yet.');
            })
          }
        >
          Places as kept
        </Button>
        {kit.proposal && current.length === 0 && (
          <Button
            size="small"
            type="primary"
            onClick={() => shiftAll(kit.proposal!.shift)}
            title={kit.proposal.why}
          >
            Shift by {kit.proposal.shift}, as the pattern asks
          </Button>
        )}
        <Space.Compact>
          <InputNumber
            size="small"
            aria-label="Semitones"
            min={-60}
            max={60}
            precision={0}
            style={{ width: 70 }}
            value={shift}
            onChange={(value) => setShift(value ?? 0)}
          />
          <Button size="small" onClick={() => shiftAll(shift)}>
            Shift
          </Button>
        </Space.Compact>
        <Select
          size="small"
          style={{ width: 170 }}
          placeholder="By name, from…"
          aria-label="Translate by name from a map"
          value={null}
          disabled={maps.length === 0}
          title={maps.length === 0 ? 'No map is kept yet: import one' : undefined}
          options={maps.map((map, index) => ({ value: index, label: map.name }))}
          onChange={(index: number | null) => index !== null && byName(maps[index]!)}
        />
        <Button size="small" disabled={current.length === 0} onClick={() => move([])}>
          As in the source
        </Button>
        <Button size="small" onClick={() => input.current?.click()}>
          Import a map…
        </Button>
        <input
          ref={input}
          type="file"
          accept=".json,.csv"
          hidden
          data-testid="kit-input"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void load(file);
          }}
        />
        <Space.Compact>
          <Input
            size="small"
            aria-label="Name of the map"
            placeholder={kit.name || 'Name'}
            style={{ width: 130 }}
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button
            size="small"
            onClick={() =>
              void keepKit(asMap()).then((kept) => {
                setMaps(kept);
                message.success('The map is kept.');
              })
            }
          >
            Keep
          </Button>
          <Button
            size="small"
            onClick={() =>
              saveFile(
                `${asMap().name}.json`,
                new Blob([JSON.stringify(asMap(), null, 2)], { type: 'application/json' }),
              )
            }
          >
            JSON
          </Button>
          <Button
            size="small"
            onClick={() =>
              saveFile(`${asMap().name}.csv`, new Blob([kitMapToCsv(asMap())], { type: 'text/csv' }))
            }
          >
            CSV
          </Button>
        </Space.Compact>
        {maps.map((map) => (
          <Button
            key={map.name}
            size="small"
            type="text"
            aria-label={`Forget the map ${map.name}`}
            onClick={() => void dropKit(map.name).then(setMaps)}
          >
            Forget {map.name}
          </Button>
        ))}
      </div>
      <Table
        className={styles.table}
        size="small"
        rowKey="key"
        columns={columns}
        dataSource={kit.keys}
        pagination={false}
        scroll={{ y: height }}
      />
    </>
  );
}
