import { Skeleton } from 'antd';
import { Navigate } from 'react-router';
import { useSessionQuery } from '../shared/api/sessionApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { FirstStep } from './FirstStep.js';
import { Steps } from './Steps.js';

/** The first start: who one is, and then, step by step, all that makes Kiraku work for real. */
export default function SetUpPage() {
  usePageTitle('Set up');
  const { data: session, error, refetch } = useSessionQuery(null);
  if (!session) return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active />;
  if (!session.setUp) return <FirstStep />;
  if (!session.signedIn) return <Navigate to="/sign-in?to=%2Fset-up" replace />;
  if (session.setUpStep === null) return <Navigate to="/sent" replace />;
  return <Steps key={session.setUpStep} step={session.setUpStep} session={session} />;
}
