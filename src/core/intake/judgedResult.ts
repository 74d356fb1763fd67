/** The result that is judged where none is named: the shop's orders. */
export const JUDGED_RESULT = 'order'
