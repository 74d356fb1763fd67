/**
 * The header of a request that changes something. No form and no page of another site can send it unasked
 * (Fetch standard, CORS-safelisted request-headers), so it shows that the caller means it.
 */
export const ownRequest = { 'x-aequant': '1' } as const
