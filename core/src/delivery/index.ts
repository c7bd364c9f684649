export {
  afterDelivery,
  arrivalsFirst,
  newDelivery,
  recordedAs,
  retryOf,
  type CopyDelivery,
  type DeliveryEvent,
  type Waiting,
} from './copy.js';
export { dsnFor, type Dsn, type DsnOfMail, type DsnOfRecipient, type SubmittedEnvelope } from './envelope.js';
export {
  hasLeft,
  MESSAGE_MOVES,
  messageDelivery,
  NOT_LEFT,
  type MessageDelivery,
  type MessageMove,
} from './message.js';
export type { Piece } from './piece.js';
export { retryDelayMs } from './retries.js';
export { LEAVE_RETRY_MS, MAX_OVERDUE_MS, OVERDUE_MS, repeatProblem, sendTimeProblem } from './schedule.js';
export { sendProblem, type Sendable, type SendProblem } from './sendable.js';
