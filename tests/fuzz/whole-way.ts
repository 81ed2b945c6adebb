import { finished } from '@/core/basics/steps';
import { lostInCleaning } from '@/core/clean/desk';
import type { Brief } from '@/core/decisions/brief';
import { DEFAULT_HAND_OVER, FORMS } from '@/core/decisions/kinds/hand-over';
import { deliverMidi, isZip } from '@/core/deliver';
import { barTable } from '@/core/deliver/bar-table';
import { writtenScore } from '@/core/deliver/folded';
import { WHOLE_PACKET } from '@/core/deliver/packet-choice';
import { deliverScore } from '@/core/deliver/score';
import { mapNotes, type Score } from '@/core/model/score';
import { timelineOf } from '@/core/sound/timeline';
import type { Source } from '@/core/sources';
import { isZip as isPacked } from '@/core/sources/musicxml/mxl';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { readSmf } from '@/core/sources/smf/read';
import { unaccounted } from '@/core/transcribe';
import { packetOf } from '@/core/workbench/packet';
import { goingOutOf, proofOf } from '@/core/workbench/proof';
import { stockOf } from '@/core/workbench/stock';
import { Workbench } from '@/core/workbench/workbench';
import { parseXml, schemaFaults } from '../helpers/schema';

/** What must be true of everything that goes out, whatever came in. */
function must(isTrue: boolean, what: string): void {
  if (!isTrue) throw new Error(`Invariant: ${what}`);
}

const NO_NUMBER = /\bNaN\b|\bundefined\b|\bInfinity\b|\[object /;

/** Ids once each, bars that their voices fill. */
function checkScore(score: Score): void {
  const ids = new Set<string>();
  for (const part of score.parts)
    mapNotes(part.bars, (note) => {
      must(!ids.has(note.id), `the id ${note.id} stands twice`);
      ids.add(note.id);
      return note;
    });
}

/** Of a score that was transcribed: what each voice of a bar comes to. */
function checkBars(score: Score): void {
  for (const part of score.parts)
    part.bars.forEach((bar, index) => {
      for (const { items, voice } of bar.voices) {
        const sum = items.reduce((all, { duration }) => all + duration, 0);
        must(
          items.length === 0 || Math.abs(sum - score.bars[index]!.length) < 1,
          `voice ${voice} does not fill its bar`,
        );
      }
    });
}

/**
 * Everything that the product does with a job: it is read, cleaned, counted, transcribed or performed, proved,
 * and handed over in every form, each of which is read again.
 *
 * @throws Error with what is not true, or BadSourceError with a sentence
 */
export function wholeWay(sources: Source[], brief: Brief, all = true): string {
  const workbench = new Workbench(sources);
  const state = workbench.layOut(1, brief);
  const { desk } = state;
  const stock = finished(stockOf(state));
  must(!NO_NUMBER.test(JSON.stringify(stock.inventory.clock)), 'the clock has figures that are none');
  const written = finished(workbench.write(1));
  const { transcription } = written;
  must(lostInCleaning(desk) === 0, `cleaning lost ${lostInCleaning(desk)} notes`);
  must(
    unaccounted(transcription.account) === 0,
    `the account is wrong by ${unaccounted(transcription.account)}`,
  );
  checkScore(transcription.score);
  if (!desk.written) checkBars(transcription.score);
  const proof = finished(proofOf(written));
  const { notes, agree, meant } = proof.agreement;
  must(agree + meant <= notes && agree >= 0 && meant >= 0, 'the agreement is more than all');
  must(!proof.findings.some(({ what }) => NO_NUMBER.test(what)), 'a finding has figures that are none');
  barTable(desk.performance, '25');
  timelineOf(desk, 'cleaned', null);
  timelineOf(desk, 'score', transcription.score);

  const score = writtenScore(transcription);
  const document = deliverScore(desk, score, 'musicxml');
  const text = new TextDecoder().decode(document);
  if (!desk.written) {
    must(
      !NO_NUMBER.test(
        text.replace(/<(work-title|part-name|words|text|creator|rights|rehearsal)>[^<]*</g, ''),
      ),
      'the MusicXML has figures that are none',
    );
    const faults = schemaFaults(parseXml(text));
    must(faults.length === 0, `the MusicXML is against the schema: ${faults[0]}`);
  } else if (brief.directives.length === 0 && !isPacked(sources[0]!.bytes))
    must(document.length === sources[0]!.bytes.length, 'an undecided score does not go out as it came');
  readMusicXml(document);
  for (const out of finished(goingOutOf(written)))
    if (out.form === 'MusicXML' && !desk.written)
      must(out.differ === 0, `${out.form} reads back otherwise: ${JSON.stringify(out.kinds)}`);
  if (!all) return 'done';

  for (const form of FORMS) {
    const choice = {
      ...DEFAULT_HAND_OVER,
      form,
      click: form === 'clock',
      leadInBars: form === 'plain' ? 1 : 0,
    };
    const bytes = deliverMidi(desk, choice, null);
    if (!isZip(choice)) readSmf(bytes);
  }
  const onPage = { ...DEFAULT_HAND_OVER, times: 'written' as const };
  readSmf(deliverMidi(desk, onPage, transcription));
  // All of this once more in one zip: for some.
  if (sources[0]!.bytes.length % 8 === 0) finished(packetOf(written, WHOLE_PACKET, 'x'));
  return 'done';
}
