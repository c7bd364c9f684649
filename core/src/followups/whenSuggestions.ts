/** What is offered where a time is asked for in words; each is read as one. */
export const WHEN_SUGGESTIONS = ['in 2 days', 'in a week', 'tomorrow', 'next Monday', 'in 2 hours'] as const;
