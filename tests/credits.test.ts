import { describe, expect, it } from 'vitest';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { deliverScore } from '@/core/deliver/score';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import type { SmfEvent } from '@/core/sources/smf/events';
import { writeSmf } from '@/core/sources/smf/write';
import { Workbench } from '@/core/workbench/workbench';
import { madeFile, madeTrack } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const bytesOf = (text: string) => new TextEncoder().encode(text);
const demo = lanternFerry();

/** A source under some decisions: what its score says of itself, and the MusicXML that goes out. */
function under(name: string, bytes: Uint8Array, ...directives: PlainDirective[]) {
  const bench = new Workbench([{ id: '1', version: 1, name, bytes }]);
  bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  const { desk, transcription } = finished(bench.write(1));
  const { score } = transcription;
  const text = new TextDecoder().decode(deliverScore(desk, score, 'musicxml'));
  return { composer: score.composer, copyright: score.copyright, text };
}

describe('who made a piece, and whose it is', () => {
  const notice: SmfEvent = { kind: 'copyright', tick: 0, type: 2, bytes: bytesOf('© 2026 Ferry & Sons') };
  const midi = writeSmf(madeFile({ events: [notice] }, madeTrack('Flute', 0, [[0, 480, 72]])));

  it('is read of a MIDI file as its copyright notice (SMF 1.0, meta event 2)', () => {
    expect(under('a.mid', midi)).toMatchObject({ composer: undefined, copyright: '© 2026 Ferry & Sons' });
  });

  it('is decided, also that there is none, and stands in MusicXML in the order of its schema', () => {
    const decided = under(
      'a.mid',
      midi,
      { kind: 'credits', composer: 'E. Marchetti' },
      { kind: 'credits', copyright: '' },
    );
    expect(decided).toMatchObject({ composer: 'E. Marchetti', copyright: undefined });
    expect(decided.text).toContain('<creator type="composer">E. Marchetti</creator>');
    expect(decided.text).not.toContain('<rights>');
    const both = writeMusicXml({ ...demo, composer: 'A & B', copyright: '<c>' });
    expect(schemaFaults(parseXml(both))).toEqual([]);
    expect(readMusicXml(bytesOf(both)).score).toMatchObject({ composer: 'A & B', copyright: '<c>' });
  });

  it('is changed in the text of a score, and nothing else of it', () => {
    const said = writeMusicXml({ ...demo, composer: 'Old', copyright: '© Old' });
    const changed = under('a.musicxml', bytesOf(said), { kind: 'credits', composer: 'New' });
    expect(changed.text).toBe(said.replace('>Old<', '>New<'));
  });

  it.each([
    ['an identification', writeMusicXml(demo)],
    ['no identification', writeMusicXml(demo).replace(/<identification>[\s\S]*?<\/identification>\s*/, '')],
  ])('is put into a document that has %s, where the schema wants it', (_, text) => {
    const put = under('a.musicxml', bytesOf(text), {
      kind: 'credits',
      composer: 'E. Marchetti',
      copyright: '© 2026',
    });
    expect(schemaFaults(parseXml(put.text))).toEqual([]);
    expect(readMusicXml(bytesOf(put.text)).score).toMatchObject({
      composer: 'E. Marchetti',
      copyright: '© 2026',
    });
    const added = '<creator type="composer">E. Marchetti</creator><rights>© 2026</rights>';
    expect(put.text.replace(added, '').replace('<identification></identification>', '')).toBe(text);
  });
});
