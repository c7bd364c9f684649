import { Button, type ButtonProps } from 'antd';
import { personText } from '@kiraku/core/sentences';
import { telOf } from './telOf.js';

interface CallButtonProps extends Pick<ButtonProps, 'type' | 'size'> {
  person: { name: string; address: string };
  /** As one writes it; where it is empty there is no button. */
  phone: string | undefined;
  /** Whether whom it calls is said on it, too. */
  isNamed?: boolean;
}

/** Has the device call somebody (RFC 3966). */
export function CallButton({ person, phone, isNamed = false, ...button }: CallButtonProps) {
  if (!phone) return null;
  const name = personText(person);
  return (
    <Button {...button} href={telOf(phone)} aria-keyshortcuts="C" aria-label={`Call ${name}`}>
      {isNamed ? `Call ${name}` : 'Call'}
    </Button>
  );
}
