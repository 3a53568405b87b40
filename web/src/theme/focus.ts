/**
 * As the `ref` of what is to have the focus when it appears. It is the same function at each drawing: one made anew each time
 * would be called again, and take the keyboard from whoever has gone on writing elsewhere.
 */
export const focusWhenItAppears = (element: HTMLElement | null): void => element?.focus();

/** Likewise, without scrolling there. */
export const focusWhereItIs = (element: HTMLElement | null): void => element?.focus({ preventScroll: true });
