/** Whether keys typed at a target are text, so that they must not act otherwise. */
export const isText = (target: EventTarget | null): boolean =>
  target instanceof HTMLTextAreaElement ||
  (target instanceof HTMLInputElement && !['checkbox', 'radio', 'button'].includes(target.type)) ||
  (target instanceof HTMLElement && target.isContentEditable)
