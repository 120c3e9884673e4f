/** True while a key press belongs to a field, so that shortcuts keep out of the way. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target;
  // A tick takes no text.
  if (target instanceof HTMLInputElement && ["checkbox", "radio"].includes(target.type)) return false;
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
  );
}
