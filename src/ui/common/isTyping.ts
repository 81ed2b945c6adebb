/** Whether keys go into a text: a tick or a choice takes none. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement) return !/^(checkbox|radio|button|range)$/.test(target.type);
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName);
}

/** Whether a field is there for choosing alone: it has no text of its own whose changes could be undone. */
export const isChoosing = (target: EventTarget | null): boolean =>
  target instanceof HTMLInputElement && target.readOnly;
