import { describe, expect, it } from 'vitest';
import { readClosed } from '../../../../tests/helpers/closure';
import { parseXml, schemaFaults } from '../../../../tests/helpers/schema';
import { lanternFerry } from '../../demo/lantern-ferry';
import { sliceScore } from '../../engrave/slice';
import { planSystems } from '../../engrave/systems';
import { CATALOGUE } from '../../instruments/catalogue';
import { partId } from '../../model/ids';
import { packMxl, unpackMxl } from './mxl';
import { writeMusicXml } from './write';

const score = lanternFerry();
const all = new Set(score.parts.map((part) => part.id));

describe('a MusicXML document', () => {
  const document = writeMusicXml(score);

  it('names its parts and how they sound', () => {
    expect(document).toContain('<part-name>B♭ Clarinet</part-name>');
    expect(document).toContain('<part-abbreviation>B♭ Cl.</part-abbreviation>');
    expect(document).toContain('<instrument-sound>wind.reed.clarinet.bflat</instrument-sound>');
    expect(document).toMatch(/<diatonic>-1<\/diatonic>\s*<chromatic>-2<\/chromatic>/);
    expect(document).toMatch(
      /<diatonic>0<\/diatonic>\s*<chromatic>0<\/chromatic>\s*<octave-change>-1<\/octave-change>/,
    );
    expect(document).toMatch(
      /<midi-channel>10<\/midi-channel>\s*<midi-program>1<\/midi-program>\s*<midi-unpitched>37<\/midi-unpitched>/,
    );
  });

  it('carries tempos, marks, words, chord symbols, articulations of the whole', () => {
    expect(document).toMatch(
      /<beat-unit>quarter<\/beat-unit>\s*<beat-unit-dot\/>\s*<per-minute>60<\/per-minute>/,
    );
    expect(document).toContain('<sound tempo="112"/>');
    expect(document.match(/<rehearsal>[A-D]<\/rehearsal>/g)).toHaveLength(4);
    expect(document).toMatch(/<syllabic>begin<\/syllabic>\s*<text>Lan<\/text>/);
    expect(document).toMatch(/<root-step>B<\/root-step>\s*<\/root>\s*<kind>minor<\/kind>/);
    expect(document).toContain('<fermata type="upright"/>');
    expect(document).toContain('<measure number="0" implicit="yes">');
    expect(document.match(/light-heavy/g)).toHaveLength(score.parts.length);
  });

  it('escapes what people type', () => {
    const odd = { ...score, title: 'Rock & <Roll> "\u0001"', parts: score.parts.slice(0, 1) };
    const written = writeMusicXml(odd);
    expect(written).toContain('<work-title>Rock &amp; &lt;Roll&gt; &quot;&quot;</work-title>');
    expect(schemaFaults(parseXml(written))).toEqual([]);
  });

  it('is valid for every instrument of the catalogue', () => {
    const [flute] = score.parts;
    const drums = score.parts.find((part) => part.instrument === 'drum-set')!;
    const parts = CATALOGUE.map((instrument, index) => ({
      ...(instrument.unpitched ? drums : flute!),
      id: partId(`1/t${index + 1}c1`),
      name: instrument.name,
      instrument: instrument.id,
      transposition: instrument.transposition,
      bars: (instrument.unpitched ? drums : flute!).bars.map((bar) =>
        JSON.parse(JSON.stringify(bar).replaceAll('"id":"', `"id":"i${index}-`)),
      ),
    }));
    const root = parseXml(writeMusicXml({ ...score, parts }));
    expect(schemaFaults(root)).toEqual([]);
  });
});

describe('a window on a score', () => {
  it('is a valid document of its own, wherever it is cut', () => {
    for (let from = 0; from < score.bars.length; from += 3) {
      const to = Math.min(from + 4, score.bars.length);
      const cut = sliceScore(score, all, from, to);
      const root = parseXml(
        writeMusicXml(cut, { after: score.bars[from - 1], goesOn: to < score.bars.length }),
      );
      expect(schemaFaults(root)).toEqual([]);
      // A tie that leaves the window rings on: it is no open tie.
      expect(readClosed(root).faults.filter((fault) => !fault.includes('differ'))).toEqual([]);
    }
  });

  it('restates the key and keeps the bar numbers', () => {
    const cut = sliceScore(score, new Set([score.parts[0]!.id]), 20, 22);
    expect(cut.keys).toEqual([{ bar: 0, fifths: 1, minor: false }]);
    expect(cut.bars.map((bar) => bar.number)).toEqual([20, 21]);
    const document = writeMusicXml(cut, { after: score.bars[19], goesOn: true });
    expect(document).toContain('<time print-object="no">');
    // Another meter than that of the bar before is printed.
    expect(writeMusicXml(cut, { after: score.bars[0], goesOn: true })).not.toContain('<time print-object');
    expect(document).toContain('<part-name>Fl.</part-name>');
    expect(document).not.toContain('light-heavy');
  });

  it('restates the tempo unprinted, and says swing only where it begins', () => {
    const swung = { ...score, swings: [{ from: 20, to: 24, value: '16th' as const, ratio: 2 / 3 }] };
    const before = score.tempos.findLast((tempo) => tempo.bar < 20)!;
    const begins = sliceScore(swung, all, 20, 22);
    expect(begins.tempos[0]).toMatchObject({
      bar: 0,
      at: 0,
      printed: null,
      quartersPerMinute: before.quartersPerMinute,
    });
    expect(writeMusicXml(begins)).toContain('<words>Swing 16ths</words>');
    const within = writeMusicXml(sliceScore(swung, all, 21, 23));
    expect(within).not.toContain('Swing');
    expect(within).not.toContain('Straight');
    const ends = writeMusicXml(sliceScore(swung, all, 23, 26));
    expect(ends.match(/<words>Straight<\/words>/g)).toHaveLength(1);
    expect(schemaFaults(parseXml(ends))).toEqual([]);
  });

  it('systems cover every bar once, and fewer fit where it is narrow', () => {
    for (const width of [40, 120, 400]) {
      const plans = planSystems(score, all, width);
      expect(plans[0]!.from).toBe(0);
      expect(plans.at(-1)!.to).toBe(score.bars.length);
      plans.slice(1).forEach((plan, index) => {
        expect(plan.from).toBe(plans[index]!.to);
      });
    }
    expect(planSystems(score, all, 40).length).toBeGreaterThan(planSystems(score, all, 400).length);
  });
});

describe('compressed files', () => {
  it('unpack to the same document', () => {
    const document = writeMusicXml(score);
    const packed = packMxl(document);
    expect(new TextDecoder().decode(unpackMxl(packed))).toBe(document);
    expect(packed.length).toBeLessThan(document.length / 8);
    // The media type stands unpacked at the front (MusicXML 4.0, compressed files).
    expect(new TextDecoder().decode(packed.slice(30, 38))).toBe('mimetype');
  });

  it('are refused in one sentence when they are none', () => {
    expect(() => unpackMxl(new Uint8Array([1, 2, 3]))).toThrow(
      'The .mxl file is not a readable zip archive.',
    );
  });
});
