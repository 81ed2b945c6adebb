import { describe, expect, it } from 'vitest';
import { WHOLE_PACKET } from '../../core/deliver/packet-choice';
import { NO_PRESETS, parseChoices } from './packet-presets';

describe('what was chosen for packets', () => {
  it('is read as it was kept; what an older choice does not speak of is as first offered', () => {
    const kept = {
      last: { score: false },
      presets: [{ name: 'Studio', choice: { format: 'mxl', parts: false } }],
    };
    expect(parseChoices(JSON.stringify(kept))).toEqual({
      last: { ...WHOLE_PACKET, score: false },
      presets: [{ name: 'Studio', choice: { ...WHOLE_PACKET, format: 'mxl', parts: false } }],
    });
  });

  it.each([
    ['nothing', undefined],
    ['no JSON', '{'],
    ['a number', '7'],
    ['null', 'null'],
    ['a list', '[]'],
    ['another form', '{"last":{"format":"pdf"},"presets":[]}'],
    ['a preset without name', '{"last":{},"presets":[{"name":"","choice":{}}]}'],
  ])('is as first offered where %s was kept', (_, text) => {
    expect(parseChoices(text)).toEqual(NO_PRESETS);
  });
});
