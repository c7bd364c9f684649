import { Alert, Button } from 'antd';
import { useState } from 'react';
import { problemOf } from '../shared/api/api.js';
import { When } from '../shared/ui/When.js';
import {
  useAddDeviceMutation,
  usePushQuery,
  useRemoveDeviceMutation,
  useTryDeviceMutation,
} from '../shared/api/notificationsApi.js';
import { askSystem, subscribePush } from './system.js';
import pageStyles from '../shared/ui/page.module.css';
import settingsStyles from '../shared/ui/settings.module.css';

/** Browsers that are notified although no window of Kiraku is open in them. */
export function PushDevices() {
  const { data } = usePushQuery(null);
  const [add, adding] = useAddDeviceMutation();
  const [remove] = useRemoveDeviceMutation();
  const [tryOut, trial] = useTryDeviceMutation();
  const [problem, setProblem] = useState<string | null>(null);

  const register = async () => {
    setProblem(null);
    const state = await askSystem();
    if (state !== 'granted') return setProblem('This browser blocks notifications from Kiraku.');
    try {
      await add(await subscribePush(data!.publicKey)).unwrap();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : problemOf(error as never).detail);
    }
  };

  return (
    <>
      <p className="soft">
        Notifications reach a phone or a computer even when Kiraku is closed there. The push service that carries them
        cannot read them.
      </p>
      <ul className={settingsStyles.list}>
        {data?.devices.map(({ id, name, createdAt, notifiedAt }) => (
          <li key={id}>
            <span>
              {name}{' '}
              <span className="soft">
                {notifiedAt === null ? 'no notification yet, added ' : 'last notified '}
                <When at={notifiedAt ?? createdAt} />
              </span>
            </span>
            <span>
              <Button type="link" size="small" onClick={() => void tryOut(id)}>
                Test
              </Button>
              <Button type="link" size="small" onClick={() => void remove(id)}>
                Remove
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {(problem ?? trial.error) && (
        <Alert
          type="warning"
          showIcon
          className={pageStyles.formProblem}
          title={problem ?? problemOf(trial.error!).detail}
          role="alert"
        />
      )}
      {trial.isSuccess && (
        <p className="soft" role="status">
          It works: a test notification was sent to {data?.devices.find(({ id }) => id === trial.originalArgs)?.name}.
        </p>
      )}
      <Button loading={adding.isLoading} disabled={!data} onClick={() => void register()}>
        Add this device
      </Button>
    </>
  );
}
