import { describe, expect, it } from 'vitest';
import { clockText, leadText, signatureName } from './names';

describe('names', () => {
  it('of signatures follow the circle of fifths', () => {
    expect([signatureName(0, false), signatureName(-3, false), signatureName(6, false)]).toEqual([
      'C major',
      'E♭ major',
      'F♯ major',
    ]);
    expect([signatureName(0, true), signatureName(-3, true), signatureName(2, true)]).toEqual([
      'A minor',
      'C minor',
      'B minor',
    ]);
  });

  it('of times count minutes, seconds and tenths', () => {
    expect([clockText(0), clockText(59.96), clockText(61.25)]).toEqual(['0:00.0', '1:00.0', '1:01.3']);
  });

  it('of leads say how far a part is from the beat, and in which notes', () => {
    expect(leadText([{ seconds: 0 }])).toBe('');
    expect(leadText([{ seconds: 0.08 }])).toBe('Sounds 80 ms ahead of the beat; written on it.');
    expect(leadText([{ seconds: -0.038 }, { seconds: 0 }])).toBe(
      'Sounds 38 ms behind the beat; written on it.',
    );
    expect(leadText([{ seconds: 0, other: { by: 'held', from: 0.3, seconds: 0.1 } }])).toBe(
      'Sounds 100 ms ahead of the beat in long notes and on the beat in short ones; written on it.',
    );
    expect(leadText([{ seconds: 0.02, other: { by: 'key', from: 60, seconds: 0.05 } }])).toContain(
      'in high notes',
    );
  });
});
