/** How high a row of a ladder, a path or a log is; `--spacing-rung` in the theme. */
export const ROW_REM = 3;

/** Lengths of drawings and rows in pixels, as many as the reader's own font size makes of them. */
export const inRem = (rem: number): number => rem * rootSize();

let known: number | undefined;

/** Asked of the browser once, for asking has it work out styles in the middle of a drawing; whoever changes the size of
 * letters does it in another window, or by zooming. */
function rootSize(): number {
  known ??= Number.parseFloat(getComputedStyle(document.documentElement).fontSize) || 16;
  return known;
}

function forget(): void {
  known = undefined;
}
window.addEventListener("resize", forget);
document.addEventListener("visibilitychange", forget);
