import { Select } from 'antd';
import { useState } from 'react';
import { cleanTags, MAX_TAG_CHARS, MAX_TAGS } from '@kiraku/core/people';
import { useTagsQuery } from '../shared/api/peopleApi.js';

interface TagsFieldProps {
  /** Given by the form that it stands in. */
  id?: string;
  value?: string[];
  onChange?(tags: string[]): void;
}

/** A person’s tags: chosen among those in use, or typed. */
export function TagsField({ id, value = [], onChange }: TagsFieldProps) {
  const { data: tags = [] } = useTagsQuery(null);
  const inUse = tags.map(({ tag }) => tag);
  const [isOpen, setOpen] = useState(false);
  return (
    <Select
      mode="tags"
      {...(id !== undefined && { id })}
      aria-label="Tags"
      onOpenChange={setOpen}
      // Escape closes the list of tags before it leaves what surrounds the field.
      onKeyDown={(press) => isOpen && press.key === 'Escape' && press.stopPropagation()}
      value={value}
      onChange={(next: string[]) => onChange?.(cleanTags(next, inUse).map((tag) => tag.slice(0, MAX_TAG_CHARS)))}
      options={inUse.map((tag) => ({ value: tag, label: tag }))}
      tokenSeparators={[',', ';']}
      maxCount={MAX_TAGS}
      placeholder="Your own words, like “café”"
    />
  );
}
