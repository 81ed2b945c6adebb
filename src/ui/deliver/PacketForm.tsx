'use client';

import { DeleteOutlined, SaveOutlined } from '@ant-design/icons';
import { App, Button, Checkbox, Input, Popover, Radio, Select, Space } from 'antd';
import { useEffect, useState } from 'react';
import { type PacketChoice, WHOLE_PACKET } from '../../core/deliver/packet-choice';
import { framesOfCode } from '../../core/deliver/smpte';
import { formatFor } from '../../workers/paper';
import { useFormat } from '../notes/useFormat';
import styles from './DeliverStage.module.css';
import { MOST_PRESETS, NO_PRESETS, type PacketChoices, readChoices, writeChoices } from './packet-presets';
import { TimeCodeFields } from './TimeCodeFields';

type Piece = Exclude<keyof PacketChoice, 'format' | 'rate' | 'start'>;

const PIECES: { value: Piece; label: string }[] = [
  { value: 'score', label: 'Score as MusicXML' },
  { value: 'parts', label: 'Each part as MusicXML' },
  { value: 'scorePdf', label: 'Score as PDF' },
  { value: 'partsPdf', label: 'Each part as PDF' },
  { value: 'midiPlayed', label: 'MIDI file, notes as played' },
  { value: 'midiWritten', label: 'MIDI file, notes as written' },
  { value: 'bars', label: 'Bar table' },
  { value: 'proof', label: 'Proof sheet' },
  { value: 'brief', label: 'Brief: all decisions' },
  { value: 'recording', label: 'Recording, where one is attached' },
  { value: 'stems', label: 'Stems, where there are some' },
  { value: 'rendered', label: 'Sound, rendered through the bank (WAV)' },
];

const { rate, start } = WHOLE_PACKET;
/** Of a bar table that does not go in. */
const AS_OFFERED = { rate, start };

/** Something goes in, and what does can be made. */
const canBeMade = (choice: PacketChoice): boolean =>
  PIECES.some(({ value }) => choice[value]) &&
  (!choice.bars || framesOfCode(choice.start, choice.rate) !== null);

interface Props {
  onChange: (choice: PacketChoice | null) => void;
}

/** What goes into packets, as it was chosen last; told whenever it changes. */
export function PacketForm({ onChange }: Props) {
  // Nothing can be chosen before it is known what was: it would be written over.
  const [kept, setKept] = useState<PacketChoices | null>(null);
  useEffect(() => {
    readChoices().then(setKept, () => setKept(NO_PRESETS));
  }, []);
  return kept && <Pieces kept={kept} onChange={onChange} />;
}

function Pieces({ kept, onChange }: Props & { kept: PacketChoices }) {
  const { notification } = App.useApp();
  const [choices, setChoices] = useState(kept);
  const [name, setName] = useState('');
  const [chosen] = useFormat();
  const choice = choices.last;
  useEffect(
    () => onChange(canBeMade(choice) ? { ...choice, ...(!choice.bars && AS_OFFERED) } : null),
    [choice, onChange],
  );
  const keep = (next: PacketChoices) => {
    setChoices(next);
    writeChoices(next).catch((error: unknown) =>
      notification.error({ title: 'The choice was not kept', description: (error as Error).message }),
    );
  };
  const set = (some: Partial<PacketChoice>) => keep({ ...choices, last: { ...choice, ...some } });
  const { presets } = choices;
  const current = presets.find((preset) => JSON.stringify(preset.choice) === JSON.stringify(choice));
  const own = name.trim();
  return (
    <>
      <Space wrap>
        <Select
          aria-label="Preset"
          placeholder="Choose a preset"
          style={{ width: 220 }}
          value={current?.name ?? null}
          disabled={presets.length === 0}
          options={presets.map((preset) => ({ value: preset.name, label: preset.name }))}
          onChange={(value: string) => {
            const preset = presets.find((each) => each.name === value);
            if (preset) keep({ ...choices, last: preset.choice });
          }}
        />
        <Popover
          trigger="click"
          placement="bottom"
          content={
            <Space>
              <Input
                aria-label="Name of the preset"
                value={name}
                maxLength={60}
                onChange={({ target }) => setName(target.value)}
              />
              <Button
                disabled={own === '' || presets.length >= MOST_PRESETS}
                onClick={() => {
                  const others = presets.filter((preset) => preset.name !== own);
                  keep({ ...choices, presets: [...others, { name: own, choice }] });
                  setName('');
                }}
              >
                Keep
              </Button>
            </Space>
          }
        >
          <Button icon={<SaveOutlined />}>Keep as a preset…</Button>
        </Popover>
        {current && (
          <Button
            icon={<DeleteOutlined />}
            aria-label={`Delete the preset ${current.name}`}
            onClick={() => keep({ ...choices, presets: presets.filter((preset) => preset !== current) })}
          />
        )}
      </Space>
      <Checkbox.Group
        className={styles.pieces!}
        value={PIECES.filter(({ value }) => choice[value]).map(({ value }) => value)}
        options={PIECES}
        onChange={(values) =>
          set(Object.fromEntries(PIECES.map(({ value }) => [value, values.includes(value)])))
        }
      />
      {choice.bars && (
        <div className={styles.row}>
          Bar table: <TimeCodeFields rate={choice.rate} start={choice.start} onChange={set} />
        </div>
      )}
      {(choice.scorePdf || choice.partsPdf) && (
        <p className="soft">
          Pages: {chosen.paper}
          {chosen.landscape && ', landscape'}, staves of {formatFor(chosen, 2).staff} mm in the score and{' '}
          {formatFor(chosen, 1).staff} mm in parts, as chosen in Notes, Pages.
        </p>
      )}
      <Radio.Group
        value={choice.format}
        aria-label="Form of MusicXML"
        options={[
          { value: 'musicxml', label: 'Plain (.musicxml)' },
          { value: 'mxl', label: 'Compressed (.mxl)' },
        ]}
        onChange={({ target }) => set({ format: target.value as PacketChoice['format'] })}
      />
    </>
  );
}
