/** The result that is judged where none is named: the shop's orders. */
export const JUDGED_RESULT = 'order'
/** All results that bring money, by their value; no definition can have this ID. */
export const ALL_RESULTS = '_all'
