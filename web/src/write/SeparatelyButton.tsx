import { Button } from 'antd';
import { useState } from 'react';
import { useBeginRound } from '../shared/hooks/useBeginRound.js';

/** Makes a round of the draft: each of its recipients gets a message of their own. */
export function SeparatelyButton({ save }: { save(): Promise<{ id: number } | null> }) {
  const begin = useBeginRound();
  const [isBeginning, setBeginning] = useState(false);
  const press = async () => {
    setBeginning(true);
    const draft = await save();
    if (draft) await begin({ draftId: draft.id });
    setBeginning(false);
  };
  return (
    <Button size="large" loading={isBeginning} onClick={() => void press()}>
      Send separately
    </Button>
  );
}
