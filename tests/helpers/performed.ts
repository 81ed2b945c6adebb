import { performScore } from '@/core/perform';
import { ALL_PLAYED, type PerformSettings } from '@/core/perform/settings';
import { readMusicXml } from '@/core/sources/musicxml/read';

/** A part of some measures as it is played: eight divisions a quarter, 4/4, one sharp. */
export function performed(
  measures: readonly string[],
  settings: Partial<PerformSettings> = {},
  name = 'Violin',
) {
  const document = `<score-partwise><part-list><score-part id="P1"><part-name>${name}</part-name></score-part></part-list><part id="P1">${measures
    .map(
      (measure, index) =>
        `<measure number="${index + 1}">${index === 0 ? '<attributes><divisions>8</divisions><key><fifths>1</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>' : ''}${measure}</measure>`,
    )
    .join('')}</part></score-partwise>`;
  return performScore(readMusicXml(new TextEncoder().encode(document)).score, { ...ALL_PLAYED, ...settings });
}
