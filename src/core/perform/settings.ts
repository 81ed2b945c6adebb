/** What carries the dynamics of a score: how hard notes are struck, a controller curve, both, or nothing. */
export const DYNAMICS = ['velocity', 'both', 'curve', 'none'] as const;
/** Controllers that players of sampled instruments shape loudness with (MIDI 1.0: 1 modulation, 11 expression). */
export const CURVE_CONTROLLERS = [1, 11] as const;

/** What is played out, and how. */
export interface PerformSettings {
  repeats: boolean;
  dynamics: (typeof DYNAMICS)[number];
  /** The curve, where there is one: which controllers carry it, and their values for the softest and loudest. */
  curve: { controllers: (typeof CURVE_CONTROLLERS)[number][]; low: number; high: number };
  /** Accents, staccato and the like, breaths. */
  articulation: boolean;
  graces: boolean;
  fermatas: boolean;
  /** Trills, mordents, turns, tremolos and broken chords. */
  ornaments: boolean;
  /** Glissandos and slides. */
  glides: boolean;
  /** Rit. and accel. */
  gradual: boolean;
  swing: boolean;
  pedal: boolean;
  /** Milliseconds by which a note under a slur sounds into the next; 0 for not at all. */
  slurOverlap: number;
}

export const ALL_PLAYED: PerformSettings = {
  repeats: true,
  dynamics: 'velocity',
  curve: { controllers: [1], low: 20, high: 120 },
  articulation: true,
  graces: true,
  fermatas: true,
  ornaments: true,
  glides: true,
  gradual: true,
  swing: true,
  pedal: true,
  slurOverlap: 20,
};

/** The same course and tempo, and of the notes only what the page shows: no nuance, nothing played out. */
export const asWritten = (settings: PerformSettings): PerformSettings => ({
  ...settings,
  dynamics: 'none',
  articulation: false,
  ornaments: false,
  glides: false,
  swing: false,
  pedal: false,
  slurOverlap: 0,
});
