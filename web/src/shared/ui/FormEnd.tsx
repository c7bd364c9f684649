import { Alert, Button } from 'antd';
import { FormProblem } from './FormProblem.js';
import styles from './page.module.css';

interface FormEndProps {
  /** What became of the last try to save. */
  result: { isLoading: boolean; isSuccess: boolean; error?: unknown };
  /** What is said where it was saved. */
  saved: string;
  button?: string;
  primary?: boolean;
  /** What can be tried before it is saved, and what became of that. */
  trial?: { words: string; isLoading: boolean; data?: { ok: boolean; words: string }; run(): void };
}

/** What stands at the end of each form of the settings: what went wrong, the buttons, whether it was saved. */
export function FormEnd({ result, saved, button = 'Save', primary = false, trial }: FormEndProps) {
  return (
    <>
      <FormProblem error={result.error} />
      {trial?.data && (
        <Alert
          type={trial.data.ok ? 'info' : 'warning'}
          showIcon
          title={trial.data.words}
          className={styles.formProblem}
          role="status"
        />
      )}
      <Button type={primary ? 'primary' : 'default'} htmlType="submit" loading={result.isLoading}>
        {button}
      </Button>{' '}
      {trial && (
        <Button loading={trial.isLoading} onClick={trial.run}>
          {trial.words}
        </Button>
      )}{' '}
      <span className="soft" role="status">
        {result.isSuccess && saved}
      </span>
    </>
  );
}
