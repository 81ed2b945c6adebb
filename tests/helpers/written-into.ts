import { instrumentOf } from '@/core/instruments/catalogue';
import type { PartId } from '@/core/model/ids';
import { type Part, type Score, writtenKeys } from '@/core/model/score';
import { type ReadMusicXml, readMusicXml } from '@/core/sources/musicxml/read';
import type { ScoreReading } from '@/core/sources/musicxml/source';
import { placesIn, spliced } from '@/core/sources/musicxml/splice';
import { musicChanges } from '@/core/sources/musicxml/splice-music';

/** The document of a score with its music as it is in another state of it. */
export function writtenInto({ document, score: before, xmlIds, readAs }: ScoreReading, after: Score): string {
  const known = new Map<PartId, Part>(before.parts.map((part) => [part.id, part]));
  return spliced(document, {
    parts: after.parts.map((part) => {
      const id = xmlIds.get(part.id)!;
      const index = before.parts.findIndex((each) => each.id === part.id);
      return {
        id,
        music: musicChanges(
          document.text,
          placesIn(document, id)!,
          { score: before, part: known.get(part.id)! },
          { score: after, part },
          readAs[index]!,
        ),
      };
    }),
  });
}

/** What a part says that its transposition is about, as plain text lines by category. */
export function pitchFacts(score: Pick<Score, 'keys'>, part: Part): Record<string, string[]> {
  const notes = part.bars.flatMap(({ voices }, bar) =>
    voices.flatMap(({ items }) =>
      items.flatMap((item) =>
        item.kind === 'chord'
          ? [...(item.graces ?? []), ...item.notes, ...(item.gracesAfter ?? [])].map(
              ({ pitch: { step, alter, octave }, key, accidental = '', string = '', fret = '' }) =>
                `b${bar} @${item.onset} ${step}${alter}/${octave} sounds ${key} ${accidental} ${string} ${fret}`,
            )
          : [],
      ),
    ),
  );
  // What no pitch is read by says nothing.
  const signed = instrumentOf(part.instrument).unpitched ? [] : writtenKeys(score, part);
  const keys = signed
    .filter(({ fifths }, index, all) => index === 0 || fifths !== all[index - 1]!.fifths)
    .map(({ bar, at, fifths }) => `b${bar} @${at} ${fifths}`);
  const changes = part.changes ?? [];
  return {
    notes,
    keys,
    transpositions: [
      JSON.stringify(part.transposition),
      ...changes.flatMap((change) =>
        change.kind === 'transposition'
          ? [`b${change.bar} @${change.at} ${JSON.stringify(change.transposition)}`]
          : [],
      ),
    ],
    clefs: [
      ...part.clefs,
      ...changes.flatMap((change) =>
        change.kind === 'clef' ? [`b${change.bar} @${change.at} ${change.staff} ${change.clef}`] : [],
      ),
    ],
    symbols: part.bars.flatMap(({ marks = [] }, bar) =>
      marks.flatMap((mark) =>
        mark.kind === 'chord-symbol' ? [`b${bar} @${mark.at} ${JSON.stringify(mark.symbol)}`] : [],
      ),
    ),
  };
}

/** Categories in which a document, read again, does not say what a score says, by part. */
export function disagreements(text: string, score: Score): string[] {
  const again: ReadMusicXml = readMusicXml(
    new TextEncoder().encode(text.replace(/^(<\?xml[^>]*\bencoding=["'])[^"']+/, '$1UTF-8')),
  );
  return score.parts.flatMap((part, index) => {
    const wanted = pitchFacts(score, part);
    const found = pitchFacts(again.score, again.score.parts[index]!);
    return Object.keys(wanted).flatMap((category) => {
      const at = wanted[category]!.findIndex((fact, each) => fact !== found[category]![each]);
      const isSame = at < 0 && wanted[category]!.length === found[category]!.length;
      return isSame
        ? []
        : [`${part.name}, ${category}: ${wanted[category]![at]} is ${found[category]![at]} in the document`];
    });
  });
}
