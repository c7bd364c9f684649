import { App, Button } from 'antd';
import { useCallback } from 'react';

const UNDO_SECONDS = 12;

interface Undoable {
  /** Names what was done: done again, it takes the place of the notification before. */
  key: string;
  title: string;
  description?: string;
  /** On the button that takes it back. */
  button?: string;
  /** Where it does not cover what it is about; else where all stand. */
  placement?: 'bottomLeft';
  undo(): void;
}

/** Says what was done, with an undo. */
export function useUndo(): (done: Undoable) => void {
  const { notification } = App.useApp();
  return useCallback(
    ({ key, title, description, button = 'Undo', placement, undo }) =>
      notification.open({
        key,
        title,
        description,
        ...(placement && { placement }),
        duration: UNDO_SECONDS,
        role: 'status',
        actions: (
          <Button
            onClick={() => {
              notification.destroy(key);
              undo();
            }}
          >
            {button}
          </Button>
        ),
      }),
    [notification],
  );
}
