import { Button } from 'antd';
import type { Trial } from '@kiraku/core/contract';
import type { FormUndo } from '../hooks/useSettingsForm.js';
import { FormProblem } from './FormProblem.js';
import { TrialResult } from './TrialResult.js';

interface FormEndProps {
  /** What became of the last try to save. */
  result: { isLoading: boolean; isSuccess: boolean; error?: unknown };
  /** What is said where it was saved. */
  saved: string;
  button?: string;
  primary?: boolean;
  /** What can be tried before it is saved, and what became of that. */
  trial?: { words: string; isLoading: boolean; data?: Trial; run(): void };
  undo?: FormUndo | null;
}

/** What stands at the end of each form of the settings: what went wrong, the buttons, whether it was saved. */
export function FormEnd({ result, saved, button = 'Save', primary = false, trial, undo = null }: FormEndProps) {
  return (
    <>
      <FormProblem error={result.error} />
      <TrialResult trial={trial?.data} />
      <Button type={primary ? 'primary' : 'default'} htmlType="submit" loading={result.isLoading}>
        {button}
      </Button>{' '}
      {trial && (
        <Button loading={trial.isLoading} onClick={trial.run}>
          {trial.words}
        </Button>
      )}{' '}
      <span className="soft" role="status">
        {result.isSuccess && (undo?.run === null ? 'Undone.' : saved)}
      </span>{' '}
      {undo?.run && (
        <Button type="link" onClick={undo.run} disabled={result.isLoading}>
          {undo.label}
        </Button>
      )}
    </>
  );
}
