/** What can be opened, for people; beside the readers, which pages that only say so need not load. */
export const OPENABLE = 'Standard MIDI File, MusicXML score or recording';
