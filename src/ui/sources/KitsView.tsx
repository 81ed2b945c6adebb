'use client';

import { App, Button, Input, InputNumber, Select, Space, Table, type TableColumnsType } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { counted } from '../../core/basics/words';
import { drumSound, KIT } from '../../core/instruments/kit';
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
import { dropKit, keepKit, listKitMaps } from '../../store/kits';
import { saveFile } from '../common/saveFile';
import { useHeight } from '../common/useHeight';
import { useSession } from '../job/session';
import styles from './SourcesStage.module.css';

const SOUNDS = KIT.map(({ key, name }) => ({ value: key, label: `${key} ${name}` }));

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
  const { take } = useSession('take');
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
  return (
    <>
      <div className={styles.tools}>
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
