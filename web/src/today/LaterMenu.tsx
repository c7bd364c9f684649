import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import type { LaterTime } from '@kiraku/core/time';

/** Puts somebody off. It opens once it is known until when that can be. */
export function LaterMenu({ who, snooze }: { who: string; snooze(until: LaterTime): void }) {
  const [isOpen, setOpen] = useState(false);
  const [times, setTimes] = useState<LaterTime[]>([]);

  async function change(open: boolean): Promise<void> {
    if (open) setTimes((await import('./laterHere.js')).laterHere());
    setOpen(open);
  }

  return (
    <Dropdown
      open={isOpen}
      onOpenChange={(open) => void change(open)}
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
