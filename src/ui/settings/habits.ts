/** Habits of writing numbers and dates that differ in what people see (BCP 47). */
export const habitsOfWriting = ['en-GB', 'en-US', 'de-DE', 'fr-FR', 'de-CH', 'sv-SE', 'ja-JP'] as const
