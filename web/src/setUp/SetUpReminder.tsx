import { Button } from 'antd';
import { Link } from 'react-router';
import { useSessionQuery, useSetSetUpStepMutation } from '../shared/api/sessionApi.js';
import styles from './setUp.module.css';

/** Leads back to what was left of set-up, until it is done or not wanted any more. */
export function SetUpReminder() {
  const { data: session } = useSessionQuery(null);
  const [setStep] = useSetSetUpStepMutation();
  if (!session || session.setUpStep === null) return null;
  return (
    <p className={`${styles.reminder} no-print`}>
      Set-up is not finished. <Link to="/set-up">Go on with it</Link>
      <Button type="link" size="small" onClick={() => void setStep(null)}>
        Skip the rest
      </Button>
    </p>
  );
}
