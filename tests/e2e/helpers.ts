import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import type { SmfEvent, SmfTrack } from '../../src/core/sources/smf/events';
import { writeSmf } from '../../src/core/sources/smf/write';

/** The jobs page once its demo jobs are there. */
export async function openShelf(page: Page): Promise<void> {
  await page.goto('/');
  await expect(page.getByRole('link', { name: 'Lantern Ferry', exact: true })).toBeVisible({
    timeout: 30_000,
  });
}

/** Waits until the page takes files: its markup is there before it listens. */
export const listening = (page: Page): Promise<unknown> =>
  page.waitForFunction(() => {
    const input = document.querySelector('[data-testid="file-input"]');
    return input !== null && Object.keys(input).some((key) => key.startsWith('__react'));
  });

/** How many rows a table of the browser's database has. */
export const keptRows = (page: Page, table: string): Promise<number> =>
  page.evaluate(
    (name) =>
      new Promise<number>((resolve, reject) => {
        const asked = indexedDB.open('dragoman');
        asked.onerror = () => reject(asked.error);
        asked.onsuccess = () => {
          const count = asked.result.transaction(name).objectStore(name).count();
          count.onerror = () => reject(count.error);
          count.onsuccess = () => {
            asked.result.close();
            resolve(count.result);
          };
        };
      }),
    table,
  );

/** Chooses a file by the dialog's input. */
export async function choose(page: Page, name: string, bytes: Uint8Array): Promise<void> {
  await listening(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name, mimeType: 'audio/midi', buffer: Buffer.from(bytes) });
}

/** Goes to the table of strands, from another view of the source. */
export const toStrands = (page: Page): Promise<void> =>
  page.getByRole('radiogroup', { name: 'View of the source' }).getByText('Strands').click();

/** Waits until nothing moves any more: transitions and animations that end have ended. */
export const still = (page: Page): Promise<unknown> =>
  page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter((each) => each.effect?.getComputedTiming().iterations !== Number.POSITIVE_INFINITY)
        .map((each) => each.finished.catch(() => {})),
    ),
  );

/** Lets the page draw so many frames. */
export const frames = (page: Page, count: number): Promise<void> =>
  page.evaluate(async (left) => {
    for (let frame = 0; frame < left; frame++) await new Promise(requestAnimationFrame);
  }, count);

/** Waits for the first engraved system. */
export const engraved = (page: Page): Promise<void> =>
  expect(page.locator('[data-engraved="true"]').first()).toBeVisible({ timeout: 30_000 });

const text = (value: string): SmfEvent => ({
  kind: 'trackName',
  tick: 0,
  type: 3,
  bytes: new TextEncoder().encode(value),
});

/** A file of `count` strands with `notes` eighths each. */
export function manyStrands(count: number, notes: number): Uint8Array {
  const tracks = Array.from({ length: count }, (_, index): SmfTrack => {
    const channel = index % 9;
    const events: SmfEvent[] = [text(index % 2 ? `Vlns ${index + 1}` : `Fl ${index + 1}`)];
    for (let at = 0; at < notes; at++) {
      const key = 60 + ((at * 7 + index) % 20);
      events.push({ kind: 'noteOn', tick: at * 240, channel, key, velocity: 80 });
      events.push({ kind: 'noteOff', tick: at * 240 + 240, channel, key, velocity: 0, asNoteOn: true });
    }
    return { events };
  });
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
}

/** A file of named strands in bars of two half notes: the first has the bar's key, the second a tone more. */
export function inHalves(strands: Record<string, readonly number[]>): Uint8Array {
  const tracks = Object.entries(strands).map(
    ([name, keys], channel): SmfTrack => ({
      events: [
        text(name),
        ...keys
          .flatMap((key) => [key, key + 2])
          .flatMap((key, half): SmfEvent[] => [
            { kind: 'noteOn', tick: half * 960, channel, key, velocity: 80 },
            { kind: 'noteOff', tick: half * 960 + 960, channel, key, velocity: 0, asNoteOn: true },
          ]),
      ],
    }),
  );
  return writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks });
}

export type Appearance = 'day' | 'night';

/** What breaks WCAG AA on the page as it is, a line each. */
export async function accessFaults(page: Page, appearance: Appearance, place: string): Promise<string[]> {
  // What passes is not worked out in full.
  const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).exclude('svg');
  // Night changes colours and nothing else.
  if (appearance === 'night') axe.withRules(['color-contrast']);
  else axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa']);
  const { violations } = await axe.analyze();
  return violations.map(({ id, nodes }) => {
    const where = nodes.map((node) => node.html).join(' ');
    return `${place}: ${id}: ${where.slice(0, 400)}`;
  });
}
