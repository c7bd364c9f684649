import { Alert, Button } from 'antd';
import { problemOf, type QueryError } from '../app/api.js';

interface FormEndProps {
  /** What became of the last try to save. */
  result: { isLoading: boolean; isSuccess: boolean; error?: QueryError };
  /** What is said where it was saved. */
  saved: string;
  button?: string;
  primary?: boolean;
}

/** What stands at the end of each form of the settings: what went wrong, the button, whether it was saved. */
export function FormEnd({ result, saved, button = 'Save', primary = false }: FormEndProps) {
  const problem = result.error && problemOf(result.error);
  return (
    <>
      {problem && (
        <Alert type="warning" showIcon title={problem.title} description={problem.detail} className="form-problem" />
      )}
      <Button type={primary ? 'primary' : 'default'} htmlType="submit" loading={result.isLoading}>
        {button}
      </Button>{' '}
      <span className="soft" role="status">
        {result.isSuccess && saved}
      </span>
    </>
  );
}
