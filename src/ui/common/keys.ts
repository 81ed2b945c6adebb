'use client';

import { useEffect, useRef } from 'react';

/** One key that works on the whole page, and what it does. */
interface Shortcut {
  /** As the sheet shows it. */
  keys: string;
  does: string;
  fits: (event: KeyboardEvent) => boolean;
  /** Works in a field too that only chooses and has no text of its own. */
  whileChoosing?: true;
  /** Keys that a focused control has a use of its own for. */
  notOn?: RegExp;
  repeats?: false;
}

const plain = (event: KeyboardEvent) => !event.ctrlKey && !event.metaKey && !event.altKey;
const command = (event: KeyboardEvent) => (event.ctrlKey || event.metaKey) && !event.altKey;
const is =
  (...keys: string[]) =>
  (event: KeyboardEvent) =>
    plain(event) && keys.includes(event.key);

/** All keys of the page: the sheet is made of this table, and every stage listens through it. */
export const SHORTCUTS = {
  stage: {
    keys: '1 2 3 4 5 6',
    does: 'Go to Sources, Roster, Time, Notes, Proof, Deliver',
    fits: is('1', '2', '3', '4', '5', '6'),
  },
  undo: {
    keys: 'Ctrl Z',
    does: 'Undo',
    fits: (event) => command(event) && !event.shiftKey && event.key.toLowerCase() === 'z',
    whileChoosing: true,
  },
  redo: {
    keys: 'Ctrl Shift Z',
    does: 'Redo',
    fits: (event) => command(event) && event.shiftKey && event.key.toLowerCase() === 'z',
    whileChoosing: true,
  },
  history: { keys: 'h', does: 'The history, step by step', fits: is('h') },
  play: { keys: 'Space', does: 'Play, stop', fits: is(' '), notOn: /^(BUTTON|A|INPUT)$/ },
  search: { keys: '/', does: 'Search the strands', fits: is('/') },
  larger: {
    keys: '+',
    does: 'Larger score; closer note bars',
    fits: is('+', '='),
  },
  smaller: { keys: '−', does: 'Smaller score; farther note bars', fits: is('-') },
  arrange: {
    keys: 'Shift ← → ↑ ↓',
    does: 'In Time: the chosen notes a slot earlier, later, longer, shorter',
    fits: (event) => plain(event) && event.shiftKey && event.key.startsWith('Arrow'),
  },
  before: { keys: 'PgUp', does: 'In Time: the bars before', fits: is('PageUp') },
  after: { keys: 'PgDn', does: 'In Time: the bars after', fits: is('PageDown') },
  nextFinding: { keys: 'n', does: 'In Time and Proof: the next finding', fits: is('n') },
  lastFinding: { keys: 'p', does: 'In Time and Proof: the finding before', fits: is('p') },
  mend: { keys: 'm', does: 'In Proof: mend the finding in hand', fits: is('m'), repeats: false },
  meant: { keys: 'x', does: 'In Proof: mark as intended, or open again', fits: is('x'), repeats: false },
  tap: { keys: 't', does: 'In Time, Beats: tap a beat while it plays', fits: is('t'), repeats: false },
  confirm: {
    keys: 'Ctrl Enter',
    does: 'In Roster: confirm the line-up',
    fits: (event) => command(event) && event.key === 'Enter',
    whileChoosing: true,
  },
  clear: { keys: 'Esc', does: 'Clear the selection', fits: is('Escape') },
  sheet: { keys: '?', does: 'This sheet', fits: is('?') },
} satisfies Record<string, Shortcut>;

export type ShortcutName = keyof typeof SHORTCUTS;

/** What only works on the score or the note bars, where the keys belong to the drawing. */
export const DRAWING_KEYS: [keys: string, does: string][] = [
  ['← → PgUp PgDn', 'On the score: the note before, after, on the staff above, below'],
  ['Shift ← →', 'On the score: choose up to there; with a click too. Ctrl and a click choose one more'],
  ['Ctrl A', 'On the score: choose all notes of the part'],
  ['↑ ↓', 'On the score: a step up, down; with Shift a semitone, with Alt an octave'],
  ['A … G', 'On the score: to the nearest note of that letter; with Shift one more above'],
  ['Ctrl ← →', 'On the score and the note bars: earlier, later; with Shift shorter, longer'],
  ['s', 'On the score: put a sign, a dynamic, a text or syllables'],
  ['Insert', 'On the score and the note bars: the same again after it'],
  ['Delete', 'On the score and the note bars: leave the notes out'],
  ['← → ↑ ↓', 'On the note bars: move over them; with Shift farther'],
  ['Alt ↑ ↓', 'On the note bars: the chosen notes a semitone up, down; with Shift an octave'],
  ['. ,', 'On the note bars: next, previous note of the strand'],
  ['Double click', 'On the note bars: a note where there is none'],
];

/** Whether keys go into a text: a tick or a choice takes none. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement) return !/^(checkbox|radio|button|range)$/.test(target.type);
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName) || target.role === 'option';
}

/** Whether a field is there for choosing alone: it has no text of its own whose changes could be undone. */
const isChoosing = (target: EventTarget | null): boolean =>
  target instanceof HTMLInputElement && target.readOnly;

/** Whether a key is for the page, and not for what has the focus. */
export function isForPage(event: KeyboardEvent, shortcut: Shortcut): boolean {
  if (!shortcut.fits(event) || (shortcut.repeats === false && event.repeat)) return false;
  if (event.target instanceof HTMLElement && shortcut.notOn?.test(event.target.tagName)) return false;
  return !isTyping(event.target) || (shortcut.whileChoosing === true && isChoosing(event.target));
}

/** Listens to keys of the page as long as the component is there; a handler that returns false lets the key go on. */
export function useKeys(handlers: Partial<Record<ShortcutName, (event: KeyboardEvent) => unknown>>): void {
  const now = useRef(handlers);
  now.current = handlers;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      for (const [name, handle] of Object.entries(now.current)) {
        if (!isForPage(event, SHORTCUTS[name as ShortcutName])) continue;
        if (handle(event) !== false) event.preventDefault();
        return;
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
