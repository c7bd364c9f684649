import { Select } from 'antd';
import { useEffect, useRef, useState, type ClipboardEvent } from 'react';
import type { Mailbox, Recipient, RecipientKind, RecipientView } from '@kiraku/core/contract';
import { addressKey, parseAddresses, replaceRecipient } from '@kiraku/core/message';
import { useLazyPeopleQuery, usePeopleQuery } from '../shared/api/draftsApi.js';
import { dropsRecipient, RecipientChip } from './RecipientChip.js';
import styles from './write.module.css';

/** Of a pasted list: lists of more seldom lack the names. */
const MAX_PASTED_ADDRESSES = 50;

interface RecipientsFieldProps {
  label: string;
  kind: RecipientKind;
  /** Of all kinds: an address stands in one field only. */
  recipients: Recipient[];
  /** What is known of them. */
  directory: readonly RecipientView[];
  onChange(recipients: Recipient[]): void;
  autoFocus?: boolean;
}

/** Addresses of one header field: chosen from people, typed, or pasted as a list. */
export function RecipientsField({ label, kind, recipients, directory, onChange, autoFocus }: RecipientsFieldProps) {
  const [words, setWords] = useState('');
  const [problem, setProblem] = useState('');
  const { data: people = [] } = usePeopleQuery(words.trim());
  const own = recipients.filter((one) => one.kind === kind);
  const taken = new Set(recipients.map((one) => addressKey(one.address)));
  const id = `recipients-${kind}`;

  /** Whether the marked suggestion was gone to by an arrow key: then it is meant. */
  const isMarkMeant = useRef(false);
  const [findPeople] = useLazyPeopleQuery();
  const latest = useRef({ recipients, onChange });
  useEffect(() => {
    latest.current = { recipients, onChange };
  });

  function add(mailboxes: Mailbox[]): void {
    const fresh = mailboxes.filter((mailbox) => !taken.has(addressKey(mailbox.address)));
    onChange([...recipients, ...fresh.map(({ name, address }) => ({ kind, name, address }))]);
  }

  /** Fills in the name of somebody known, where the address was taken before the suggestions had come. */
  async function nameLater(address: string): Promise<void> {
    const { data: found = [] } = await findPeople(address, true);
    const name = found.find((one) => addressKey(one.address) === addressKey(address))?.name;
    if (!name) return;
    const now = latest.current;
    now.onChange(now.recipients.map((one) => (one.address === address && one.name === '' ? { ...one, name } : one)));
  }

  const remove = (address: string) => onChange(recipients.filter((one) => one.address !== address));
  const move = (address: string, to: RecipientKind) =>
    onChange(recipients.map((one) => (one.address === address ? { ...one, kind: to } : one)));

  /** One recipient as another; says what is wrong where it is nobody. */
  function edit(address: string, text: string): boolean {
    const parsed = parseAddresses(text);
    const [edited] = 'mailboxes' in parsed ? parsed.mailboxes : [];
    setProblem('problem' in parsed ? parsed.problem : '');
    if (edited) onChange(replaceRecipient(recipients, address, edited));
    return edited !== undefined;
  }

  /** Takes over what was written; says what is wrong, and leaves it to be mended. */
  function read(text: string): boolean {
    const parsed = parseAddresses(text);
    if ('problem' in parsed) {
      setProblem(parsed.problem);
      return false;
    }
    setProblem('');
    setWords('');
    const known = new Map(people.map((one) => [addressKey(one.address), one.name]));
    const named = parsed.mailboxes.map((box) => ({
      ...box,
      name: box.name || known.get(addressKey(box.address)) || '',
    }));
    add(named);
    for (const { name, address } of named.slice(0, MAX_PASTED_ADDRESSES)) if (name === '') void nameLater(address);
    return true;
  }

  function onPaste(event: ClipboardEvent): void {
    const text = event.clipboardData.getData('text/plain');
    if (!/[,;\n<]/.test(text)) return;
    event.preventDefault();
    if (!read(text)) setWords(text.replace(/\s+/g, ' '));
  }

  return (
    <>
      <label htmlFor={id}>{label}</label>
      <div onPaste={onPaste} {...dropsRecipient((address) => move(address, kind))}>
        <Select
          id={id}
          mode="multiple"
          variant="borderless"
          className={styles.recipients}
          autoFocus={autoFocus}
          suffixIcon={null}
          filterOption={false}
          defaultActiveFirstOption={words.trim() !== ''}
          value={own.map((one) => one.address)}
          searchValue={words}
          onSearch={(text) => {
            setProblem('');
            isMarkMeant.current = false;
            if (/[,;]\s*$/.test(text)) return void (read(text) || setWords(text));
            setWords(text);
          }}
          onSelect={(address: string) => {
            isMarkMeant.current = false;
            setWords('');
            const person = people.find((one) => one.address === address);
            add([{ name: person?.name ?? '', address }]);
          }}
          onDeselect={remove}
          onInputKeyDown={(event) => {
            if (event.key === 'ArrowDown' || event.key === 'ArrowUp') isMarkMeant.current = true;
            const isMeant = isMarkMeant.current;
            const leaves = event.key === 'Tab' || (event.key === 'Enter' && words.includes('@'));
            if (!leaves || event.ctrlKey || isMeant) return;
            // Nobody is added who was not chosen: the component would take whom it has marked by itself.
            event.stopPropagation();
            if (event.key === 'Enter') event.preventDefault();
            if (words.trim() !== '') read(words);
          }}
          onBlur={() => words.trim() !== '' && read(words)}
          options={people
            .filter((one) => !taken.has(addressKey(one.address)))
            .map((one) => ({
              value: one.address,
              label: <Suggestion name={one.name} address={one.address} company={one.company} />,
            }))}
          tagRender={({ value }) => {
            const address = String(value);
            const recipient = own.find((one) => one.address === address) ?? { kind, name: '', address };
            return (
              <RecipientChip
                recipient={recipient}
                company={directory.find((one) => one.address === address)?.company ?? ''}
                onEdit={(text) => edit(address, text)}
                onMove={(next) => move(address, next)}
                onRemove={() => remove(address)}
              />
            );
          }}
          notFoundContent={words.includes('@') ? 'Press Enter to add this address.' : 'Type an address, then Enter.'}
          status={problem ? 'error' : undefined}
          aria-describedby={problem ? `${id}-problem` : undefined}
        />
        {problem && (
          <p id={`${id}-problem`} role="alert" className={`tone-now ${styles.problem}`}>
            {problem}
          </p>
        )}
      </div>
    </>
  );
}

function Suggestion({ name, address, company }: { name: string; address: string; company: string }) {
  return (
    <span>
      {name || address} <span className="soft">{[company, name && address].filter(Boolean).join(', ')}</span>
    </span>
  );
}
