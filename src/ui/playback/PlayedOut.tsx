'use client';

import { Checkbox } from 'antd';
import type { PerformSettings } from '../../core/perform/settings';
import { useSession } from '../job/session';

const LABELS = {
  repeats: 'Repeats and jumps',
  articulation: 'Articulation and breaths',
  graces: 'Grace notes',
  ornaments: 'Ornaments and tremolo',
  glides: 'Glissandos and slides',
  pedal: 'Pedal',
  swing: 'Swing',
  fermatas: 'Fermatas',
  gradual: 'Rit. and accel.',
} as const satisfies Partial<Record<keyof PerformSettings, string>>;

type PlayedKind = keyof typeof LABELS;

/** All kinds of marks that are played out of a score. */
export const PLAYED_KINDS = Object.keys(LABELS) as PlayedKind[];

/** Those that leave bars and tempo as they are. */
export const KINDS_IN_TIME: readonly PlayedKind[] = [
  'articulation',
  'graces',
  'ornaments',
  'glides',
  'pedal',
  'swing',
];

/** Which marks of a score are played out. */
export function PlayedOut({ kinds }: { kinds: readonly PlayedKind[] }) {
  const { decisions, amend } = useSession('decisions', 'amend');
  return kinds.map((kind) => (
    <Checkbox
      key={kind}
      checked={decisions.perform[kind]}
      onChange={({ target: { checked } }) =>
        amend((now) => [{ kind: 'perform', ...now.perform, [kind]: checked }])
      }
    >
      {LABELS[kind]}
    </Checkbox>
  ));
}
