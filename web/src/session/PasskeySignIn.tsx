import { Button } from 'antd';
import { useState } from 'react';
import {
  useAskForPasskeyMutation,
  usePasskeyIsThereQuery,
  useSignInByPasskeyMutation,
} from '../shared/api/sessionApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { canUsePasskeys } from './canUsePasskeys.js';
import styles from './session.module.css';

/** The way in with a passkey, where there is one. */
export function PasskeySignIn() {
  const { data } = usePasskeyIsThereQuery(null, { skip: !canUsePasskeys() });
  const [ask, asked] = useAskForPasskeyMutation();
  const [signIn, result] = useSignInByPasskeyMutation();
  const [notGiven, setNotGiven] = useState(false);
  if (!data?.isThere) return null;
  const enter = async () => {
    setNotGiven(false);
    const { startAuthentication } = await import('@simplewebauthn/browser');
    const { data: given } = await ask(null);
    if (!given) return;
    const reply = await startAuthentication({ optionsJSON: given.options as never }).catch(() => null);
    if (reply) await signIn({ reply });
    else setNotGiven(true);
  };
  return (
    <div className={styles.passkey}>
      <FormProblem error={asked.error ?? result.error} />
      {notGiven && <p role="alert">Your device has not given a passkey. Try again, or use your passphrase.</p>}
      <Button size="large" block loading={result.isLoading} onClick={() => void enter()}>
        Sign in with a passkey
      </Button>
    </div>
  );
}
