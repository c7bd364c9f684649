import type { AddressObject } from 'mailparser';
import type { Mailbox } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';

/** Everybody whom a header field names, those of groups among them. */
export function mailboxesOf(list: AddressObject | AddressObject[] | undefined): Mailbox[] {
  return [list ?? []]
    .flat()
    .flatMap(({ value }) => value.flatMap((one) => one.group ?? [one]))
    .flatMap(({ name, address }) => (address ? [{ name: name.slice(0, MESSAGE_LIMITS.maxNameChars), address }] : []));
}
