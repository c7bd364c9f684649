/** How far a window has been updated: the last event, and the last change besides events. */
export interface LiveCursor {
  eventId: number;
  changeId: number;
}

/** “eventId.changeId”, as windows are given it and give it back. */
export function liveCursorText({ eventId, changeId }: LiveCursor): string {
  return `${eventId}.${changeId}`;
}

/** The inverse of {@link liveCursorText}; null for any other text. */
export function parseLiveCursor(text: string | undefined): LiveCursor | null {
  const match = /^(\d{1,15})\.(\d{1,15})$/.exec(text ?? '');
  return match && { eventId: Number(match[1]), changeId: Number(match[2]) };
}
