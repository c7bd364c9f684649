import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import type { LaterTime } from '@kiraku/core/time';

/** Snoozes a person. The menu opens once its times are there. */
export function LaterMenu({ who, snooze }: { who: string; snooze(until: LaterTime): void }) {
  const [isOpen, setOpen] = useState(false);
  const [times, setTimes] = useState<LaterTime[]>([]);

  async function change(open: boolean): Promise<void> {
    if (open) {
      const { laterHere } = await import('./laterHere.js');
      setTimes(laterHere());
    }
    setOpen(open);
  }

  /** Where a file of the page cannot be loaded, as after an update, the page says so. */
  function fail(error: unknown): void {
    setTimes(() => {
      throw error;
    });
  }

  return (
    <Dropdown
      open={isOpen}
      onOpenChange={(open) => void change(open).catch(fail)}
      trigger={['click']}
      autoFocus
      menu={{
        items: times.map(({ label }) => ({ key: label, label: `Later: ${label}` })),
        onClick: ({ key }) => snooze(times.find(({ label }) => label === key)!),
      }}
    >
      <Button aria-keyshortcuts="L" aria-label={`Later: ${who}`} aria-haspopup="menu">
        Later
      </Button>
    </Dropdown>
  );
}
