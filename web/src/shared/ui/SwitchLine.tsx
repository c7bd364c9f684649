import { Switch } from 'antd';
import styles from './switchLine.module.css';

interface SwitchLineProps {
  words: string;
  checked: boolean;
  onChange(checked: boolean): void;
}

/** A sentence with its switch at the end of the line. */
export function SwitchLine({ words, checked, onChange }: SwitchLineProps) {
  return (
    <label className={styles.switchLine}>
      {words}
      <Switch size="small" checked={checked} onChange={onChange} />
    </label>
  );
}
