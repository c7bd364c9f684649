import { Alert, Button, Form, Progress, Radio, Select, Skeleton, Switch } from 'antd';
import { useEffect } from 'react';
import type { ColleagueChoice, PlaceChoice } from '@kiraku/core/contract';
import { problemOf } from '../shared/api/api.js';
import { PrivacySettings } from '../privacy/PrivacySettings.js';
import { DaysField } from '../shared/ui/DaysField.js';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import {
  useRejudgeMutation,
  useJudgingProgressQuery,
  useJudgingQuery,
  useOwnBrowserMutation,
  useSaveJudgingMutation,
  type JudgingForm,
} from '../shared/api/judgingApi.js';
import { EvidenceTables } from './EvidenceTables.js';
import { Networks } from './Networks.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './judging.module.css';

const COLLEAGUES: { value: ColleagueChoice; label: string }[] = [
  { value: 'count', label: 'counts like all other activity' },
  { value: 'muted', label: 'counts, without a notification' },
  { value: 'not-counted', label: 'is not counted' },
];

const PLACES: { value: PlaceChoice; label: string }[] = [
  { value: 'none', label: 'is not stored' },
  { value: 'country', label: 'is stored as a country' },
  { value: 'city', label: 'is stored as a city (often wrong)' },
];

const POLL_MS = 1000;

/** What to count, for how long, and what is kept of them. */
export default function JudgingPage() {
  usePageTitle('What counts');
  const { data, error, refetch } = useJudgingQuery(null);
  return (
    <SettingsFrame>
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 8 }} />}
      {data && (
        <div className={`${settingsStyles.settings} ${styles.judging}`}>
          <section aria-label="What counts">
            <Choices data={data} />
          </section>
          <section aria-labelledby="judging-again">
            <h2 id="judging-again">Past activity</h2>
            <Rejudge />
            <h2 className={settingsStyles.next}>How long activity is kept</h2>
            <PrivacySettings />
            <h2 className={settingsStyles.next}>Networks</h2>
            <Networks />
            <h2 className={settingsStyles.next}>How people and machines are distinguished</h2>
            <EvidenceTables />
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}

function Choices({ data: { thisNetwork, ...data } }: { data: JudgingForm }) {
  const [save, result] = useSaveJudgingMutation();
  const { form, onFinish, undo } = useSettingsForm(data, save);
  const networks = Form.useWatch('ownNetworks', form) ?? data.ownNetworks;
  return (
    <Form form={form} layout="vertical" requiredMark={false} initialValues={data} onFinish={onFinish}>
      <h2>My devices and networks</h2>
      <Form.Item name="ownNetworks" label="My networks" extra="For example 192.0.2.7, 192.0.2.0/24 or 2001:db8::/32.">
        <Select mode="tags" open={false} suffixIcon={null} tokenSeparators={[' ', ',', ';']} placeholder="None" />
      </Form.Item>
      <div className={settingsStyles.buttons}>
        <Button
          disabled={networks.includes(thisNetwork)}
          onClick={() => form.setFieldValue('ownNetworks', [...networks, thisNetwork])}
        >
          Add this network: {thisNetwork}
        </Button>
        <OwnBrowser />
      </div>
      <h2 className={settingsStyles.next}>What to count</h2>
      <Form.Item name="colleagues" label="Activity of recipients at my own domain">
        <Radio.Group options={COLLEAGUES} />
      </Form.Item>
      <ul className={settingsStyles.list}>
        <li>
          <label htmlFor="judging-dnt">Do not count readers whose browser asks not to be tracked</label>
          <Form.Item name="respectDnt" valuePropName="checked" noStyle>
            <Switch id="judging-dnt" size="small" />
          </Form.Item>
        </li>
      </ul>
      <div className={settingsStyles.sentences}>
        <label>
          Count activity for <DaysField name="trackForDays" label="Days to count activity" empty="no end" /> days after
          sending,
        </label>
        <label>
          and notify me for <DaysField name="notifyForDays" label="Days to notify" empty="no end" /> days. Empty: no
          end.
        </label>
      </div>
      <h2 className={settingsStyles.next}>Places of readers</h2>
      <Form.Item
        name="place"
        label="The approximate place of a reader"
        extra={
          <>
            Looked up on this machine, not by a service. Data:{' '}
            <a href="https://db-ip.com" target="_blank" rel="noreferrer">
              IP Geolocation by DB-IP
            </a>
            .
          </>
        }
      >
        <Radio.Group options={PLACES} />
      </Form.Item>
      <Form.Item
        name="proxies"
        label="Proxies in front of the public address"
        extra="Only these are trusted to say whose request they forward (Forwarded, X-Forwarded-For)."
      >
        <Select mode="tags" open={false} suffixIcon={null} tokenSeparators={[' ', ',', ';']} placeholder="None" />
      </Form.Item>
      <FormEnd result={result} saved="Saved. It applies to new activity." primary undo={undo} />
    </Form>
  );
}

/** Opens the public site in this browser, which leaves it the mark. */
function OwnBrowser() {
  const [invite, { isLoading, error }] = useOwnBrowserMutation();
  return (
    <>
      <Button
        loading={isLoading}
        onClick={async () => {
          // Opened at the press, as browsers ask; led on when the address is there.
          const page = window.open('about:blank', '_blank');
          const { data } = await invite(null);
          if (data && page) page.location.href = data.url;
          else page?.close();
        }}
      >
        This browser is mine
      </Button>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
    </>
  );
}

function Rejudge() {
  const { data, refetch } = useJudgingProgressQuery(null);
  const [begin, { isLoading, isSuccess }] = useRejudgeMutation();
  const progress = data?.progress ?? null;
  const isUnderWay = progress !== null;
  useEffect(() => {
    if (!isUnderWay) return undefined;
    const timer = setInterval(() => void refetch(), POLL_MS);
    return () => clearInterval(timer);
  }, [isUnderWay, refetch]);
  return (
    <>
      <p className="soft">
        Changes apply to new activity. You can apply the rules to past activity too; your own decisions stay.
      </p>
      {progress ? (
        <div role="status">
          <Progress
            percent={Math.floor((100 * progress.done) / Math.max(1, progress.total))}
            aria-label="Messages checked"
          />
          <p className="soft">
            {progress.done} of {progress.total} messages; {progress.changed} changed.
          </p>
        </div>
      ) : (
        <>
          <Button loading={isLoading} onClick={() => void begin(null)}>
            Apply the rules to past activity
          </Button>{' '}
          <span className="soft" role="status">
            {isSuccess && 'Done.'}
          </span>
        </>
      )}
    </>
  );
}
