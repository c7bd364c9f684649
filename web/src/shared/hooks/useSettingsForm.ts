import { Form, type FormInstance } from 'antd';
import { useRef, useState } from 'react';

/** How the last save is undone. */
export interface FormUndo {
  label: string;
  /** Null where it was undone already. */
  run: (() => void) | null;
}

interface SettingsForm<T> {
  form: FormInstance<T>;
  onFinish(fields: T): void;
  /** For the end of the form; null as long as nothing was saved. */
  undo: FormUndo | null;
}

/**
 * A form of the settings that is saved as a whole, and whose last save can be undone.
 *
 * @param stored what its fields hold at first
 * @param save stores what the fields hold
 * @param secret the field of a password: empty, it leaves the stored one, which is never shown again and so not undone
 */
export function useSettingsForm<T extends object>(
  stored: T,
  save: (fields: T) => PromiseLike<{ error?: unknown }>,
  secret?: keyof T & string,
): SettingsForm<T> {
  const [form] = Form.useForm<T>();
  const latest = useRef(stored);
  const [undo, setUndo] = useState<FormUndo | null>(null);
  const isStored = async (fields: T) => {
    if ((await save(fields)).error) return false;
    latest.current = secret === undefined ? fields : { ...fields, [secret]: '' };
    // As a part of whatever the form holds.
    form.setFieldsValue(latest.current as Parameters<typeof form.setFieldsValue>[0]);
    return true;
  };
  const onFinish = async (fields: T) => {
    const before = latest.current;
    if (!(await isStored(fields))) return;
    const run = async () => {
      if (await isStored(before)) setUndo({ label: '', run: null });
    };
    const keepsSecret = secret !== undefined && Boolean(fields[secret]);
    setUndo({ label: keepsSecret ? 'Undo, except the password' : 'Undo', run: () => void run() });
  };
  return { form, onFinish: (fields) => void onFinish(fields), undo };
}
