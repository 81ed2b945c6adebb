/** What the worker is asked, as people say it: a question that is not answered is told by its name. */
export const QUESTIONS = {
  beats: 'the beats',
  'bar table': 'the bar table',
  choices: 'the other readings of the note',
  clock: 'the clock',
  compare: 'the comparison',
  'compared bars': 'the bars of the difference',
  evidence: 'the evidence',
  find: 'the notes that are looked for',
  'going out': 'what goes out, read back',
  interlinear: 'the bars as played and as written',
  lyrics: 'the words under the notes',
  'lyrics laid': 'where the words go',
  like: 'passages like this one',
  listed: 'marks and repeats',
  'line-up': 'the line-up of the other source',
  'marks from': 'the marks of the other source',
  'midi preview': 'the preview of the MIDI file',
  'note bars': 'the note bars',
  origins: 'where the notes come from',
  'played like': 'the other source’s playing',
  proof: 'the proof',
  reading: 'the reading of the note',
  systems: 'the systems of the score',
  'version news': 'what the new version brought',
  window: 'some bars of the score',
} as const;

export type Question = keyof typeof QUESTIONS;

/** What is asked, and everything that the answer depends on beside the revision. */
export type Asked = readonly [what: Question, ...of: unknown[]];
