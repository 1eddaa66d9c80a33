/** How high a row of a ladder, a path or a log is; `--spacing-rung` in the theme. */
export const ROW_REM = 3;

/** Lengths of drawings and rows in pixels, as many as the reader's own font size makes of them. */
export const inRem = (rem: number): number =>
  rem * (Number.parseFloat(getComputedStyle(document.documentElement).fontSize) || 16);
