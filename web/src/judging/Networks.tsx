import { Alert, Button, Select, Skeleton } from 'antd';
import type { NetworkKind, NetworkView } from '@kiraku/core/contract';
import { networkText } from '@kiraku/core/sentences';
import { problemOf } from '../shared/api/api.js';
import {
  useForgetNetworkMutation,
  useNameNetworkMutation,
  useNetworksInfiniteQuery,
} from '../shared/api/judgingApi.js';
import { When } from '../shared/ui/When.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './judging.module.css';

/** Stands for no choice, which a field cannot have as its value. */
const AS_SEEN = 'as-seen';
const CHOICES: { value: NetworkKind | typeof AS_SEEN; label: string }[] = [
  { value: AS_SEEN, label: 'As it was seen' },
  { value: 'filter', label: 'A security filter: never count' },
  { value: 'people', label: 'People read here' },
];

/** What networks were seen to be, and what the user says that they are. */
export function Networks() {
  const { data, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useNetworksInfiniteQuery(null, {
    refetchOnMountOrArgChange: true,
  });
  const networks = data?.pages.flatMap((page) => page.networks) ?? [];
  return (
    <>
      <p className="soft">
        What data-centre networks were seen to do over all messages. Old sightings fade; where people live is not
        remembered.
      </p>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 2 }} />}
      {data && networks.length === 0 && <p>None yet. They appear as filters and proxies show themselves.</p>}
      <ul className={settingsStyles.list}>
        {networks.map((network) => (
          <Network key={network.id} network={network} />
        ))}
      </ul>
      {hasNextPage && (
        <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          Show older
        </Button>
      )}
    </>
  );
}

function Network({ network }: { network: NetworkView }) {
  const { id, prefix, owner, namedAs, at } = network;
  const [name, naming] = useNameNetworkMutation();
  const [forget, forgetting] = useForgetNetworkMutation();
  const error = naming.error ?? forgetting.error;
  return (
    <li className={styles.network}>
      <span>
        {prefix} {owner && <span className="soft">{owner}</span>}
        <br />
        <span className="soft">
          {networkText(network)}, last <When at={at} />
        </span>
        {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
      </span>
      <span className={styles.networkActions}>
        <Select
          aria-label={`What ${prefix} is`}
          size="small"
          popupMatchSelectWidth={false}
          value={namedAs ?? AS_SEEN}
          options={CHOICES}
          loading={naming.isLoading}
          onChange={(choice) => void name({ id, namedAs: choice === AS_SEEN ? null : (choice as NetworkKind) })}
        />
        <Button
          size="small"
          loading={forgetting.isLoading}
          aria-label={`Forget ${prefix}`}
          onClick={() => void forget(id)}
        >
          Forget
        </Button>
      </span>
    </li>
  );
}
