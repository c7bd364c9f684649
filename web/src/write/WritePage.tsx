import { Skeleton } from 'antd';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { DraftContent } from '@kiraku/core/contract';
import { BLANK_CONTENT, escapeHtml, readMailto } from '@kiraku/core/message';
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

/** New messages, by the settings; to whom and about what, by the address: a link, or what was shared. Undefined until they are known. */
function useBlank() {
  const writing = useWritingQuery(null);
  const signatures = useSignaturesQuery(null);
  const [params] = useSearchParams();
  const [address, name] = [params.get('to'), params.get('name') ?? ''];
  const mailto = params.get('mailto') ?? '';
  const text = params.get('text') ?? '';
  const blank = useMemo(() => {
    if (!writing.data || !signatures.data) return undefined;
    const { signatureId, disclosure, ...switches } = writing.data;
    void disclosure;
    const signature = signatures.data.find((one) => one.id === signatureId);
    const asked = readMailto(mailto) ?? {
      recipients: address === null ? [] : [{ kind: 'to' as const, name, address }],
      subject: '',
      html: text === '' ? '' : `<p>${escapeHtml(text)}</p>`,
    };
    const html = signature ? `${asked.html || '<p></p>'}${signature.html}` : asked.html;
    return { ...BLANK_CONTENT, ...switches, ...asked, html };
  }, [writing.data, signatures.data, address, name, mailto, text]);
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
