import { type Desk, layOut } from '@/core/clean/desk';
import type { Brief } from '@/core/decisions/brief';
import { performanceReading } from '@/core/sources';
import type { Smf } from '@/core/sources/smf/events';

/** A MIDI file that has been read, laid out as the only source of a job. */
export const layOutFile = (smf: Smf, brief: Brief): Desk => layOut([performanceReading(smf)], brief);
