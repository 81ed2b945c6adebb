'use client';

import { useEffect, useRef } from 'react';

/** Where keys work. */
export const KEY_PLACES = {
  anywhere: 'Anywhere',
  sources: 'Sources',
  roster: 'Roster',
  time: 'Time',
  notes: 'Notes',
  proof: 'Proof',
  score: 'On the score',
  bars: 'On the note bars',
} as const;
export type KeyPlace = keyof typeof KEY_PLACES;

/** One key that works on the whole page, and what it does. */
interface Shortcut {
  where: KeyPlace;
  /** As the list of actions shows it. */
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

/** All keys of the page: the list of actions is made of this table, and every stage listens through it. */
export const SHORTCUTS = {
  find: {
    where: 'anywhere',
    keys: 'Ctrl K',
    does: 'Find an action, a part or a bar',
    fits: (event) => command(event) && !event.shiftKey && event.key.toLowerCase() === 'k',
    whileChoosing: true,
  },
  sheet: { where: 'anywhere', keys: '?', does: 'All keys', fits: is('?') },
  stage: {
    where: 'anywhere',
    keys: '1 2 3 4 5 6',
    does: 'Go to Sources, Roster, Time, Notes, Proof, Deliver',
    fits: is('1', '2', '3', '4', '5', '6'),
  },
  undo: {
    where: 'anywhere',
    keys: 'Ctrl Z',
    does: 'Undo',
    fits: (event) => command(event) && !event.shiftKey && event.key.toLowerCase() === 'z',
    whileChoosing: true,
  },
  redo: {
    where: 'anywhere',
    keys: 'Ctrl Shift Z',
    does: 'Redo',
    fits: (event) => command(event) && event.shiftKey && event.key.toLowerCase() === 'z',
    whileChoosing: true,
  },
  history: { where: 'anywhere', keys: 'h', does: 'Show the history, step by step', fits: is('h') },
  play: {
    where: 'anywhere',
    keys: 'Space',
    does: 'Play, stop',
    fits: is(' '),
    notOn: /^(BUTTON|A|INPUT)$/,
  },
  clear: { where: 'anywhere', keys: 'Esc', does: 'Clear the selection', fits: is('Escape') },
  search: { where: 'sources', keys: '/', does: 'Find a strand; in Roster too', fits: is('/') },
  confirm: {
    where: 'roster',
    keys: 'Ctrl Enter',
    does: 'Confirm the line-up',
    fits: (event) => command(event) && event.key === 'Enter',
    whileChoosing: true,
  },
  arrange: {
    where: 'time',
    keys: 'Shift ← → ↑ ↓',
    does: 'Move the chosen notes a slot earlier, later; make them longer, shorter',
    fits: (event) => plain(event) && event.shiftKey && event.key.startsWith('Arrow'),
  },
  before: { where: 'time', keys: 'PgUp', does: 'The bars before', fits: is('PageUp') },
  after: { where: 'time', keys: 'PgDn', does: 'The bars after', fits: is('PageDown') },
  tap: { where: 'time', keys: 't', does: 'Tap a beat while it plays', fits: is('t'), repeats: false },
  larger: { where: 'notes', keys: '+', does: 'Larger score; closer note bars', fits: is('+', '=') },
  smaller: { where: 'notes', keys: '−', does: 'Smaller score; farther note bars', fits: is('-') },
  nextFinding: { where: 'proof', keys: 'n', does: 'The next finding; in Time too', fits: is('n') },
  lastFinding: { where: 'proof', keys: 'p', does: 'The finding before; in Time too', fits: is('p') },
  mend: { where: 'proof', keys: 'm', does: 'Mend the finding in hand', fits: is('m'), repeats: false },
  meant: {
    where: 'proof',
    keys: 'x',
    does: 'Mark the finding as intended, or open it again',
    fits: is('x'),
    repeats: false,
  },
} satisfies Record<string, Shortcut>;

export type ShortcutName = keyof typeof SHORTCUTS;

/** What only works on the score or the note bars, where the keys belong to the drawing. */
export const DRAWING_KEYS: readonly { where: KeyPlace; keys: string; does: string }[] = [
  { where: 'score', keys: '← → PgUp PgDn', does: 'The note before, after, on the staff above, below' },
  {
    where: 'score',
    keys: 'Shift ← →',
    does: 'Choose up to there; a click does too. Ctrl and a click choose one more',
  },
  { where: 'score', keys: 'Ctrl A', does: 'Choose all notes of the part' },
  { where: 'score', keys: '↑ ↓', does: 'A step up, down; with Shift a semitone, with Alt an octave' },
  { where: 'score', keys: 'A … G', does: 'To the nearest note of that letter; with Shift one more above' },
  { where: 'score', keys: 'Ctrl ← →', does: 'Earlier, later; with Shift shorter, longer' },
  { where: 'score', keys: 's', does: 'Put a sign, a dynamic, a text or syllables' },
  { where: 'score', keys: 'Insert', does: 'The same again after it' },
  { where: 'score', keys: 'Delete', does: 'Leave the notes out' },
  { where: 'bars', keys: '← → ↑ ↓', does: 'Move over them; with Shift farther' },
  { where: 'bars', keys: 'Ctrl ← →', does: 'The chosen notes earlier, later; with Shift shorter, longer' },
  { where: 'bars', keys: 'Alt ↑ ↓', does: 'The chosen notes a semitone up, down; with Shift an octave' },
  { where: 'bars', keys: '. ,', does: 'The next, the previous note of the strand' },
  { where: 'bars', keys: 'Insert', does: 'The same again after it' },
  { where: 'bars', keys: 'Delete', does: 'Leave the notes out' },
  { where: 'bars', keys: 'Double click', does: 'A note where there is none' },
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

type Handlers = Partial<Record<ShortcutName, (event: KeyboardEvent) => unknown>>;

/** Who listens now, those that came last at the end. */
const listeners: { readonly current: Handlers }[] = [];

/** Whether somebody on the page answers to a key. */
export const isAnswered = (name: ShortcutName): boolean =>
  listeners.some(({ current }) => current[name] !== undefined);

/** Does what a key does, without the key. @param event what would have been pressed, where that says which */
export function press(name: ShortcutName, event = new KeyboardEvent('keydown')): void {
  for (const { current } of listeners) {
    const handle = current[name];
    if (handle && handle(event) !== false) return;
  }
}

/** Listens to keys of the page as long as the component is there; a handler that returns false lets the key go on. */
export function useKeys(handlers: Handlers): void {
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
    listeners.push(now);
    window.addEventListener('keydown', onKey);
    return () => {
      listeners.splice(listeners.indexOf(now), 1);
      window.removeEventListener('keydown', onKey);
    };
  }, []);
}

/** So many keys are remembered while nothing listens yet: more were pressed by leaning on one. */
const MOST_WAITING = 8;

/** Keys that are pressed while the page is not there yet do what they do once it is. */
export function useKeysLater(isWaiting: boolean): void {
  const waiting = useRef<{ name: ShortcutName; event: KeyboardEvent }[]>([]);
  useEffect(() => {
    if (!isWaiting) {
      // Whoever answers them listens from the same drawing on: children come before those around them.
      for (const { name, event } of waiting.current.splice(0)) press(name, event);
      return;
    }
    const onKey = (event: KeyboardEvent) => {
      const name = (Object.keys(SHORTCUTS) as ShortcutName[]).find((each) =>
        isForPage(event, SHORTCUTS[each]),
      );
      if (!name) return;
      event.preventDefault();
      if (waiting.current.length < MOST_WAITING) waiting.current.push({ name, event });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [isWaiting]);
}
