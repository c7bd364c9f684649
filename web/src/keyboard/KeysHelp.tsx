import { Modal } from 'antd';
import { keysSlice, rememberKeys } from '../shared/store/keysSlice.js';
import { useAppDispatch, useAppSelector } from '../shared/store/store.js';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import { ACTION_KEYS, HELP_KEY, OTHER_KEYS, PAGE_KEYS, SEARCH_KEY, WRITE_KEY } from './keys.js';
import styles from './keyboard.module.css';

const GROUPS = [
  { title: 'Go to', keys: PAGE_KEYS },
  {
    title: 'Do',
    keys: [
      ...ACTION_KEYS,
      { key: WRITE_KEY, words: 'Write' },
      { key: SEARCH_KEY, words: 'Search everything' },
      { key: HELP_KEY, words: 'This list' },
    ],
  },
  { title: 'Always', keys: OTHER_KEYS },
];

/** All keys, and the switch for the single ones. */
export default function KeysHelp({ onClose }: { onClose(): void }) {
  const areOn = useAppSelector(({ keys }) => keys);
  const dispatch = useAppDispatch();
  const change = (next: boolean) => {
    rememberKeys(next);
    dispatch(keysSlice.actions.switched(next));
  };
  return (
    <Modal open title="Keys" footer={null} onCancel={onClose} width={720}>
      <SwitchLine words="Use single keys in this browser" checked={areOn} onChange={change} />
      <div className={styles.groups}>
        {GROUPS.map(({ title, keys }) => (
          <section key={title} aria-label={title}>
            <h2>{title}</h2>
            <dl>
              {keys.map(({ key, words }) => (
                <div key={key}>
                  <dt>
                    <kbd>{key}</kbd>
                  </dt>
                  <dd>{words}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Modal>
  );
}
