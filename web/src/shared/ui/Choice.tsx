import { Button, Dropdown } from 'antd';
import type { ReactNode } from 'react';
import styles from './choice.module.css';

interface ChoiceProps<T extends string> {
  /** What it chooses, for those who hear the page. */
  label: string;
  value: T;
  options: readonly { value: T; label: ReactNode }[];
  /** What stands in the sentence. */
  words: string;
  onChoose(value: T): void;
}

/** An underlined word of a sentence that opens the choices for its place. */
export function Choice<T extends string>({ label, value, options, words, onChoose }: ChoiceProps<T>) {
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: options.map((option) => ({ key: option.value, label: option.label })),
        selectable: true,
        selectedKeys: [value],
        onClick: ({ key }) => onChoose(key as T),
      }}
    >
      <Button type="text" className={styles.choice} aria-label={`${label}: ${words}`} aria-haspopup="menu">
        {words}
      </Button>
    </Dropdown>
  );
}

interface WordChoiceProps<T extends string> extends Pick<ChoiceProps<T>, 'label' | 'value' | 'onChoose'> {
  values: readonly T[];
  /** What each is called, in the sentence as among the choices. */
  texts: Readonly<Record<T, string>>;
}

/** The same, where the words of a sentence are those of its choices. */
export function WordChoice<T extends string>({ values, texts, ...choice }: WordChoiceProps<T>) {
  const options = values.map((value) => ({ value, label: texts[value] }));
  return <Choice {...choice} options={options} words={texts[choice.value]} />;
}
