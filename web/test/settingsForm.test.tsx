import { jest } from '@jest/globals';
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App, Form, Input } from 'antd';
import { useState } from 'react';
import { useSettingsForm } from '../src/shared/hooks/useSettingsForm.js';
import { useSavedAtOnce } from '../src/shared/hooks/useSavedAtOnce.js';
import { FormEnd } from '../src/shared/ui/FormEnd.js';
import { likeABrowser } from './browser.js';

interface Fields {
  host: string;
  password?: string;
}
type Save = (fields: Fields) => Promise<{ error?: unknown }>;
const REFUSED = { status: 422, data: { title: 'Not valid', detail: 'No such server', status: 422 } };

function Settings({ save }: { save: Save }) {
  const stored: Fields = { host: 'old.example', password: '' };
  const [result, setResult] = useState<{ isLoading: boolean; isSuccess: boolean; error?: unknown }>({
    isLoading: false,
    isSuccess: false,
  });
  const { form, onFinish, undo } = useSettingsForm<Fields>(
    stored,
    async (fields) => {
      const outcome = await save(fields);
      setResult({ isLoading: false, isSuccess: !outcome.error, error: outcome.error });
      return outcome;
    },
    'password',
  );
  return (
    <Form form={form} initialValues={stored} onFinish={onFinish}>
      <Form.Item name="host" label="Server">
        <Input />
      </Form.Item>
      <Form.Item name="password" label="Password">
        <Input type="password" />
      </Form.Item>
      <FormEnd result={result} saved="Saved." undo={undo} />
    </Form>
  );
}

beforeAll(likeABrowser);

const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const type = (name: string, value: string) => act(() => fireEvent.change(field(name), { target: { value } }));
const press = (name: string) => act(async () => fireEvent.click(screen.getByRole('button', { name })));

test('what was saved is undone, and then saved anew', async () => {
  const save = jest.fn<Save>().mockResolvedValue({});
  render(<Settings save={save} />);
  expect(screen.queryByRole('button', { name: /Undo/ })).toBeNull();
  await type('Server', 'new.example');
  await press('Save');
  await screen.findByText('Saved.');
  await press('Undo');
  await screen.findByText('Undone.');
  expect(save.mock.calls.map(([{ host }]) => host)).toEqual(['new.example', 'old.example']);
  expect(field('Server').value).toBe('old.example');
  expect(screen.queryByRole('button', { name: /Undo/ })).toBeNull();

  await type('Server', 'third.example');
  await press('Save');
  await press('Undo');
  await waitFor(() => expect(save.mock.lastCall?.[0].host).toBe('old.example'));
});

test('a password that was saved is neither shown again nor undone', async () => {
  const save = jest.fn<Save>().mockResolvedValue({});
  render(<Settings save={save} />);
  await type('Password', 'felt and reed');
  await press('Save');
  await screen.findByText('Saved.');
  expect(field('Password').value).toBe('');
  await press('Undo, except the password');
  await screen.findByText('Undone.');
  expect(save.mock.calls.map(([{ password }]) => password)).toEqual(['felt and reed', '']);
});

test('what was refused is not there to be undone, and stays to be mended', async () => {
  const save = jest.fn<Save>().mockResolvedValueOnce({ error: REFUSED }).mockResolvedValue({});
  render(<Settings save={save} />);
  await type('Server', 'nowhere.example');
  await press('Save');
  await screen.findByText('No such server');
  expect(screen.queryByRole('button', { name: /Undo/ })).toBeNull();
  expect(field('Server').value).toBe('nowhere.example');
});

test('what is saved at once is undone from the notification, and what was refused is not', async () => {
  const save = jest.fn<(seconds: number) => Promise<{ error?: unknown }>>().mockResolvedValue({});
  function AtOnce() {
    const savedAtOnce = useSavedAtOnce('Sending', save);
    return <button onClick={() => void savedAtOnce(30, 10)}>Thirty</button>;
  }
  render(
    <App>
      <AtOnce />
    </App>,
  );
  save.mockResolvedValueOnce({ error: REFUSED });
  await press('Thirty');
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
  await press('Thirty');
  await act(async () => fireEvent.click(await screen.findByRole('button', { name: 'Undo' })));
  expect(save.mock.calls).toEqual([[30], [30], [10]]);
});
