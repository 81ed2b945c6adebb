/** The stages of a job, in the order of the work; each is a page under the job. */
export const STAGES = [
  { id: 'sources', name: 'Sources' },
  { id: 'roster', name: 'Roster' },
  { id: 'time', name: 'Time' },
  { id: 'notes', name: 'Notes' },
  { id: 'proof', name: 'Proof' },
  { id: 'deliver', name: 'Deliver' },
] as const;

export type StageId = (typeof STAGES)[number]['id'];
