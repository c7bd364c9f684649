import { Alert } from 'antd';
import { problemOf, type QueryError } from '../api/api.js';
import styles from './page.module.css';

/** Why what a form asked for was not done; nothing where it was. */
export function FormProblem({ error }: { error: unknown }) {
  if (error === undefined) return null;
  const { title, detail } = problemOf(error as QueryError);
  return <Alert type="warning" showIcon title={title} description={detail} className={styles.formProblem} />;
}
