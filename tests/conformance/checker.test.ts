import { describe, expect, it } from 'vitest';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readClosed } from '../helpers/closure';
import { parseXml, schemaFaults } from '../helpers/schema';

/** The checkers themselves: each planted fault must be found, or their silence would mean nothing. */
const whole = writeMusicXml(lanternFerry());
const planted = (from: string | RegExp, to: string): string => {
  const changed = whole.replace(from, to);
  expect(changed).not.toBe(whole);
  return changed;
};

describe('the schema checker finds', () => {
  it.each([
    ['a child out of order', /(<voice>1<\/voice>)\s*(<type>eighth<\/type>)/, '$2$1', /wrong children/],
    ['a missing child', /<part-name>Flute<\/part-name>/, '', /wrong children/],
    ['an unknown child', '<backup>', '<backup><sing/>', /wrong children/],
    ['a value that does not exist', '<type>eighth</type>', '<type>8th</type>', /is not an allowed value/],
    ['a number out of range', '<octave>5</octave>', '<octave>12</octave>', /is too large/],
    ['an unknown attribute', '<backup>', '<backup loud="yes">', /unknown attribute loud/],
    ['a missing attribute', '<score-part id="P1">', '<score-part>', /lacks attribute id/],
    ['an id used twice', /<note id="FL-1-[^"]+"/, '<note id="FL-0-1-1-0-A4"', /stands twice/],
    ['text where none may be', '<backup>', '<backup>now', /may hold no text/],
  ])('%s', (_, from, to, fault) => {
    expect(schemaFaults(parseXml(planted(from, to))).join('\n')).toMatch(fault);
  });

  it('nothing in a whole document', () => {
    expect(schemaFaults(parseXml(whole))).toEqual([]);
  });
});

describe('the closure checker finds', () => {
  it.each([
    [
      'a voice that is too long',
      /<duration>(\d+)<\/duration>/,
      '<duration>1$1</duration>',
      /a eighth with 0 dots lasts|quarters in a bar of/,
    ],
    ['a tie that does not end', /<tie type="stop"\/>/, '', /tie and tied differ|does not end|do not end/],
    ['a beam that does not end', '<beam number="1">end</beam>', '', /beam .* does not end/],
    ['a tuplet that does not end', '<tuplet type="stop" number="1"/>', '', /tuplet/],
    ['a dot too many', '<type>quarter</type>', '<type>quarter</type><dot/>', /a quarter with/],
  ])('%s', (_, from, to, fault) => {
    expect(readClosed(parseXml(planted(from, to))).faults.join('\n')).toMatch(fault);
  });
});
