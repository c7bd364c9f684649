import { Alert, Button, Form, Input, Skeleton } from 'antd';
import { useEffect, useState } from 'react';
import type { CodesSecret } from '@kiraku/core/contract';
import {
  useBeginCodesMutation,
  useCodesQuery,
  useConfirmCodesMutation,
  useTurnOffCodesMutation,
} from '../shared/api/sessionApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { WithPassphrase } from './WithPassphrase.js';
import styles from './session.module.css';

/** A code from the phone besides the passphrase: for a desk that can be reached from outside. */
export function CodesSettings() {
  const { data } = useCodesQuery(null);
  const [begin, begun] = useBeginCodesMutation();
  const [turnOff, turningOff] = useTurnOffCodesMutation();
  const [confirm, confirmed] = useConfirmCodesMutation();
  if (!data) return <Skeleton active title={false} />;
  if (confirmed.data) return <Recovery codes={confirmed.data.codes} done={confirmed.reset} />;
  if (data.isOn)
    return (
      <>
        <p>Besides the passphrase, a code from your phone is asked for.</p>
        <p className="soft">
          {data.recoveryCodesLeft} recovery codes are left. If you lose the phone and the codes, run{' '}
          <code>npm run passphrase</code> on the machine that Kiraku runs on.
        </p>
        <WithPassphrase label="Turn off" isLoading={turningOff.isLoading} error={turningOff.error} act={turnOff} />
      </>
    );
  if (begun.data)
    return <Confirm secret={begun.data} isLoading={confirmed.isLoading} error={confirmed.error} act={confirm} />;
  return (
    <>
      <p className="soft">
        An app on your phone that makes codes by the time is asked for one when you sign in. Worthwhile where Kiraku can
        be reached from outside.
      </p>
      <WithPassphrase label="Set up" isLoading={begun.isLoading} error={begun.error} act={begin} />
    </>
  );
}

interface ActProps {
  isLoading: boolean;
  error: unknown;
  act(text: string): unknown;
}

function Confirm({ secret: { secret, uri }, isLoading, error, act }: ActProps & { secret: CodesSecret }) {
  const picture = usePicture(uri);
  return (
    <Form layout="vertical" requiredMark={false} onFinish={({ code }: { code: string }) => void act(code)}>
      <p>Let the app on your phone read this, or type it there:</p>
      {picture && <img src={picture} width={200} height={200} alt="The secret, for the camera of your phone" />}
      <p>
        <code className={styles.secret}>{secret}</code>
      </p>
      <Form.Item name="code" label="The code that it shows now" rules={[{ required: true, message: 'Type it.' }]}>
        <Input autoComplete="one-time-code" inputMode="numeric" />
      </Form.Item>
      <FormProblem error={error} />
      <Button type="primary" htmlType="submit" loading={isLoading}>
        Ask for codes from now on
      </Button>
    </Form>
  );
}

function Recovery({ codes, done }: { codes: string[]; done(): void }) {
  return (
    <>
      <Alert
        type="info"
        showIcon
        title="Keep these recovery codes. Each signs you in once where your phone is lost. They are not shown again."
      />
      <ul className={styles.codes} aria-label="Recovery codes">
        {codes.map((code) => (
          <li key={code}>
            <code>{code}</code>
          </li>
        ))}
      </ul>
      <Button onClick={done}>I have kept them</Button>
    </>
  );
}

/** A picture that a camera reads (ISO/IEC 18004), loaded where it is needed. */
function usePicture(text: string): string | undefined {
  const [picture, setPicture] = useState<string>();
  useEffect(() => {
    let isGone = false;
    void import('qrcode')
      .then(({ toString }) => toString(text, { type: 'svg', margin: 2 }))
      .then((svg) => isGone || setPicture(`data:image/svg+xml,${encodeURIComponent(svg)}`));
    return () => {
      isGone = true;
    };
  }, [text]);
  return picture;
}
