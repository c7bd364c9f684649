import { Skeleton } from 'antd';
import { useParams } from 'react-router';
import { useRoundQuery } from '../shared/api/roundsApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { BegunRound } from './BegunRound.js';
import { PrepareRound } from './PrepareRound.js';

/** One round: before it begins, its text and whom it goes to; from then on, who stands where. */
export default function RoundPage() {
  const { id } = useParams();
  const { data: round, error, refetch } = useRoundQuery(Number(id));
  usePageTitle(round?.name ?? 'Round');
  if (!round) {
    if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
    return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  }
  return round.state === 'preparing' ? <PrepareRound key={round.id} round={round} /> : <BegunRound round={round} />;
}
