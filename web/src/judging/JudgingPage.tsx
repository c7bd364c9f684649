import { Alert, Button, Form, Progress, Radio, Select, Skeleton, Switch } from 'antd';
import { useEffect } from 'react';
import type { ColleagueChoice, PlaceChoice } from '@kiraku/core/contract';
import { REASONS } from '@kiraku/core/tracking';
import { problemOf } from '../app/api.js';
import { PrivacySettings } from '../privacy/PrivacySettings.js';
import { DaysField } from '../settings/DaysField.js';
import { FormEnd } from '../settings/FormEnd.js';
import { SettingsPages } from '../settings/SettingsPages.js';
import '../settings/settings.css';
import { LoadFailed } from '../ui/LoadFailed.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import {
  useJudgeAgainMutation,
  useJudgingProgressQuery,
  useJudgingQuery,
  useOwnBrowserMutation,
  useSaveJudgingMutation,
  type JudgingForm,
} from './judgingApi.js';
import './judging.css';

const COLLEAGUES: { value: ColleagueChoice; label: string }[] = [
  { value: 'count', label: 'count like all others' },
  { value: 'quiet', label: 'count, without a notice' },
  { value: 'aside', label: 'are set aside' },
];

const PLACES: { value: PlaceChoice; label: string }[] = [
  { value: 'none', label: 'is not kept' },
  { value: 'country', label: 'is kept as a country' },
  { value: 'city', label: 'is kept as a city, which is often wrong' },
];

const POLL_MS = 1000;

/** Which looks count, for how long, and what is kept of them. */
export default function JudgingPage() {
  usePageTitle('What counts');
  const { data, error, refetch } = useJudgingQuery(null);
  return (
    <>
      <h1>Settings</h1>
      <SettingsPages />
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 8 }} />}
      {data && (
        <div className="settings judging">
          <section aria-label="What counts">
            <Choices data={data} />
          </section>
          <section aria-labelledby="judging-again">
            <h2 id="judging-again">What was judged before</h2>
            <JudgeAgain />
            <h2 className="settings-next">How long it is kept</h2>
            <PrivacySettings />
            <h2 className="settings-next">What is set aside, and why</h2>
            <ul className="judging-reasons">
              {REASONS.map(({ name, words, looksAt }) => (
                <li key={name}>
                  {words}. <span className="soft">Looks at {looksAt}.</span>
                </li>
              ))}
            </ul>
          </section>
        </div>
      )}
    </>
  );
}

function Choices({ data: { thisNetwork, ...data } }: { data: JudgingForm }) {
  const [form] = Form.useForm<typeof data>();
  const [save, result] = useSaveJudgingMutation();
  const networks = Form.useWatch('ownNetworks', form) ?? data.ownNetworks;
  return (
    <Form form={form} layout="vertical" requiredMark={false} initialValues={data} onFinish={(view) => void save(view)}>
      <h2>Which looks are mine</h2>
      <Form.Item
        name="ownNetworks"
        label="Addresses and networks of mine"
        extra="Like 192.0.2.7, 192.0.2.0/24 or 2001:db8::/32."
      >
        <Select mode="tags" open={false} suffixIcon={null} tokenSeparators={[' ', ',', ';']} placeholder="None" />
      </Form.Item>
      <div className="settings-buttons">
        <Button
          disabled={networks.includes(thisNetwork)}
          onClick={() => form.setFieldValue('ownNetworks', [...networks, thisNetwork])}
        >
          This network is me: {thisNetwork}
        </Button>
        <OwnBrowser />
      </div>
      <h2 className="settings-next">Which looks count</h2>
      <Form.Item name="colleagues" label="Looks by recipients with an address of my own domain">
        <Radio.Group options={COLLEAGUES} />
      </Form.Item>
      <ul className="settings-list">
        <li>
          <label htmlFor="judging-wish">Set readers aside whose browser asks not to be tracked</label>
          <Form.Item name="respectWish" valuePropName="checked" noStyle>
            <Switch id="judging-wish" size="small" />
          </Form.Item>
        </li>
      </ul>
      <div className="settings-sentences">
        <label>
          Looks count for <DaysField name="trackForDays" label="Days for which looks count" empty="all" /> days after
          sending,
        </label>
        <label>
          and ring for <DaysField name="ringForDays" label="Days for which looks ring" empty="all" /> days. Left empty,
          for good.
        </label>
      </div>
      <h2 className="settings-next">Where readers are</h2>
      <Form.Item
        name="place"
        label="The approximate place of a reader’s address"
        extra={
          <>
            Looked up on this machine; nobody is asked. Data:{' '}
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
        label="Proxies in front of the public door"
        extra="Only these are believed when they say for whom they forward (Forwarded, X-Forwarded-For)."
      >
        <Select mode="tags" open={false} suffixIcon={null} tokenSeparators={[' ', ',', ';']} placeholder="None" />
      </Form.Item>
      <FormEnd result={result} saved="Saved. It holds from the next look on." primary />
    </Form>
  );
}

/** Opens the public door in this browser, which leaves it the mark. */
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
        This browser is me
      </Button>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
    </>
  );
}

function JudgeAgain() {
  const { data, refetch } = useJudgingProgressQuery(null);
  const [begin, { isLoading, isSuccess }] = useJudgeAgainMutation();
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
        A change holds from the next look on. Judging again takes it to all that was ever recorded; what you decided
        yourself stays.
      </p>
      {progress ? (
        <div role="status">
          <Progress
            percent={Math.floor((100 * progress.done) / Math.max(1, progress.total))}
            aria-label="Messages judged again"
          />
          <p className="soft">
            {progress.done} of {progress.total} messages; {progress.changed} verdicts came out otherwise.
          </p>
        </div>
      ) : (
        <>
          <Button loading={isLoading} onClick={() => void begin(null)}>
            Judge everything again
          </Button>{' '}
          <span className="soft" role="status">
            {isSuccess && 'Done.'}
          </span>
        </>
      )}
    </>
  );
}
