/** Whether keys typed at this element are text: a box that is only ticked is none, and keeps no key from the bench. */
export function takesText(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest(
      'input:not([type="checkbox"], [type="radio"], [type="file"]), textarea, select, [contenteditable]',
    ) !== null
  );
}
