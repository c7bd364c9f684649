export { attention, failing, fine, notInUse, notKnown } from './finding.js';
export { worstFirst } from './order.js';
export { dmarcFinding, spfFinding, withThoseAbove } from './senderDomain.js';
export { backupFinding, certificateFinding, clockFinding, diskFinding, renewalAt } from './machine.js';
