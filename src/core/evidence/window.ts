/** Whether something came in a click's window, half-open; all in ms. */
export const inWindow = (clickedAt: number, at: number, windowMs: number): boolean =>
  clickedAt <= at && at < clickedAt + windowMs
