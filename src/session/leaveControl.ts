/** Takes what a control still holds, such as a figure that is being typed, before what it belongs to goes away. */
export function leaveControl(): void {
  if (typeof document !== "undefined" && document.activeElement instanceof HTMLElement) document.activeElement.blur();
}
