import { describe, expect, it } from 'vitest';
import { versionOf } from './version-name';

const sources = [{ name: 'Cue 4 v12 (final).mid' }, { name: 'session clock.mid' }, { name: '7.mid' }];

describe('a file that is dropped on a job', () => {
  it.each([
    ['cue_4_v13.mid', 'Cue 4 v12 (final).mid'],
    ['Cue 4.mid', 'Cue 4 v12 (final).mid'],
    ['Cue 4 2026-11-30.musicxml', 'Cue 4 v12 (final).mid'],
    ['Session Clock copy.mid', 'session clock.mid'],
    ['Cue 5.mid', undefined],
    ['v2.mid', undefined],
    ['8.mid', undefined],
    ['other.mid', undefined],
  ])('is a new version where its name says so: %s', (file, source) => {
    expect(versionOf(file, sources)?.name).toBe(source);
  });
});
