import { Button, Form, Input } from 'antd';
import { useEffect, useState } from 'react';
import { Navigate, useSearchParams } from 'react-router';
import type { SignInRequest } from '@kiraku/core/contract';
import { forgetRead, problemOf } from '../shared/api/api.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { Gate } from '../shared/ui/Gate.js';
import { useSessionQuery, useSignInMutation } from '../shared/api/sessionApi.js';
import { liveSlice } from '../shared/store/liveSlice.js';
import { useAppDispatch } from '../shared/store/store.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { PasskeySignIn } from './PasskeySignIn.js';

/** The way in: one passphrase, and a code where that is wanted. */
export default function SignInPage() {
  usePageTitle('Sign in');
  const { data: session } = useSessionQuery(null);
  const [signIn, { isLoading, error }] = useSignInMutation();
  const [search] = useSearchParams();
  const dispatch = useAppDispatch();
  // Nothing keeps what was read up to date until somebody signs in.
  useEffect(() => {
    dispatch(forgetRead());
    dispatch(liveSlice.actions.left(''));
  }, [dispatch]);
  // Once it was asked for, it stays.
  const [asksForCode, setAsksForCode] = useState(false);
  const isAsked = error !== undefined && problemOf(error).errors?.some(({ field }) => field === 'code');
  if (isAsked && !asksForCode) setAsksForCode(true);
  if (session && !session.setUp) return <Navigate to="/set-up" replace />;
  if (session?.signedIn) return <Navigate to={placeWithin(search.get('to'))} replace />;
  return (
    <Gate title="Good to see you" words="Everything is as you left it.">
      <Form layout="vertical" requiredMark={false} onFinish={(fields: SignInRequest) => void signIn(fields)}>
        <Form.Item name="passphrase" label="Passphrase" rules={[{ required: true, message: 'Type your passphrase.' }]}>
          <Input type="password" size="large" autoFocus autoComplete="current-password" />
        </Form.Item>
        {asksForCode && (
          <Form.Item name="code" label="Code" extra="From your phone; or one of your recovery codes.">
            <Input size="large" autoFocus autoComplete="one-time-code" />
          </Form.Item>
        )}
        <FormProblem error={error} />
        <Button type="primary" size="large" htmlType="submit" loading={isLoading} block>
          Sign in
        </Button>
      </Form>
      <PasskeySignIn />
    </Gate>
  );
}

/** Only a path of our own: the address bar may hold anything. */
function placeWithin(to: string | null): string {
  return to && /^\/(?!\/|\\)/.test(to) ? to : '/today';
}
