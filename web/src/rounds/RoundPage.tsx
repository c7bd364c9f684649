import { Skeleton } from 'antd';
import { useState } from 'react';
import { useParams } from 'react-router';
import { useRoundQuery } from '../shared/api/roundsApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { BegunRound } from './BegunRound.js';
import { PrepareRound } from './PrepareRound.js';

/** One round: before it begins, its text and whom it goes to; from then on, who stands where. */
export default function RoundPage() {
  const { id } = useParams();
  const [isChanging, setChanging] = useState(false);
  const { data: round, error, refetch } = useRoundQuery(Number(id));
  usePageTitle(round?.name ?? 'Round');
  if (!round) {
    if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
    return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  }
  if (round.state === 'preparing') return <PrepareRound key={round.id} round={round} />;
  // Once it runs again, nothing of it can be changed.
  if (isChanging && round.state !== 'running' && round.state !== 'done')
    return <PrepareRound key={round.id} round={round} done={() => setChanging(false)} />;
  return <BegunRound round={round} change={() => setChanging(true)} />;
}
