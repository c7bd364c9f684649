import { Skeleton } from 'antd';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { DraftContent } from '@kiraku/core/contract';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { useSignaturesQuery, useWritingQuery } from '../shared/api/settingsApi.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { useDraftQuery } from '../shared/api/draftsApi.js';
import { MessageForm } from './MessageForm.js';

/** Begins a message, or goes on with a draft. */
export default function WritePage() {
  usePageTitle('Write');
  const { id } = useParams();
  const navigate = useNavigate();
  /** A message begun here gets its number while it is written: the form stays, only the address changes. */
  const [begun, setBegun] = useState<string | null>(null);
  const goOn = useCallback((added: number) => void navigate(`/write/${added}`, { replace: true }), [navigate]);
  const onBegun = useCallback(
    (added: number) => {
      setBegun(String(added));
      goOn(added);
    },
    [goOn],
  );
  const { blank, error, refetch } = useBlank();
  // What is being written stays, whatever of it is loaded again.
  if (!blank && error) return <LoadFailed error={error} retry={refetch} />;
  if (!blank) return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  if (id === undefined || id === begun)
    return <MessageForm key="begun" initial={null} blank={blank} onAdded={onBegun} />;
  return <Draft key={id} id={Number(id)} blank={blank} onAdded={goOn} />;
}

/** New messages, by the settings, and to whom, by the address; undefined until they are known. */
function useBlank() {
  const writing = useWritingQuery(null);
  const signatures = useSignaturesQuery(null);
  const [params] = useSearchParams();
  const [address, name] = [params.get('to'), params.get('name') ?? ''];
  const blank = useMemo(() => {
    if (!writing.data || !signatures.data) return undefined;
    const { signatureId, disclosure, ...switches } = writing.data;
    void disclosure;
    const signature = signatures.data.find((one) => one.id === signatureId);
    const recipients = address === null ? [] : [{ kind: 'to' as const, name, address }];
    return { ...BLANK_CONTENT, ...switches, recipients, html: signature ? `<p></p>${signature.html}` : '' };
  }, [writing.data, signatures.data, address, name]);
  const refetch = () => {
    void writing.refetch();
    void signatures.refetch();
  };
  return { blank, error: writing.error ?? signatures.error, refetch };
}

function Draft({ id, blank, onAdded }: { id: number; blank: DraftContent; onAdded(id: number): void }) {
  const { data, error, isFetching, refetch } = useDraftQuery(id, { refetchOnMountOrArgChange: true });
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (!data || isFetching) return <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  return <MessageForm initial={data} blank={blank} onAdded={onAdded} />;
}
