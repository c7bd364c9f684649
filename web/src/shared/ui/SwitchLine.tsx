import { Switch } from 'antd';
import './switchLine.css';

interface SwitchLineProps {
  words: string;
  checked: boolean;
  onChange(checked: boolean): void;
}

/** A sentence with its switch at the end of the line. */
export function SwitchLine({ words, checked, onChange }: SwitchLineProps) {
  return (
    <label className="switch-line">
      {words}
      <Switch size="small" checked={checked} onChange={onChange} />
    </label>
  );
}
