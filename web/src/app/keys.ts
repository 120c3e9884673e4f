/** Single-key shortcuts: when a key press is one. */
import { keep, kept } from "./person";

function takesKeys(target: EventTarget | null): boolean {
  // A tick takes no text.
  if (target instanceof HTMLInputElement && ["checkbox", "radio"].includes(target.type)) return false;
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
  );
}

/** True while a key press belongs to a field, so that shortcuts keep out of the way. */
export function isTyping(event: KeyboardEvent): boolean {
  return takesKeys(event.target);
}

/** True while a field has the focus: the next keys are somebody's, and the focus is not to be taken away. */
export function isFieldFocused(): boolean {
  return takesKeys(document.activeElement);
}

const SWITCH = "shortcuts-off";

/** Single keys can be switched off by each person: speech input and a stray glove press them too. */
export function areShortcutsOn(): boolean {
  return kept<boolean>(SWITCH) !== true;
}

export function switchShortcuts(isOn: boolean): void {
  keep(SWITCH, isOn ? null : true);
}

function isDialogOpen(): boolean {
  return [...document.querySelectorAll('[role="dialog"], [role="alertdialog"]')].some((dialog) =>
    dialog.checkVisibility(),
  );
}

/** A key alone, outside of any field, with no dialog over the page. */
export function isShortcut(event: KeyboardEvent): boolean {
  return (
    areShortcutsOn() &&
    !isTyping(event) &&
    !event.ctrlKey &&
    !event.metaKey &&
    !event.altKey &&
    !isDialogOpen()
  );
}
