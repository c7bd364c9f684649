/**
 * A run of octets of a mail that is kept in pieces: of the original that all copies of a message share, or of the copy’s
 * own; from `start` up to `end`.
 */
export type Piece = [from: 'shared' | 'own', start: number, end: number];
