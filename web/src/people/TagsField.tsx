import { Select } from 'antd';
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
  return (
    <Select
      mode="tags"
      {...(id !== undefined && { id })}
      aria-label="Tags"
      value={value}
      onChange={(next: string[]) => onChange?.(cleanTags(next, inUse).map((tag) => tag.slice(0, MAX_TAG_CHARS)))}
      options={inUse.map((tag) => ({ value: tag, label: tag }))}
      tokenSeparators={[',', ';']}
      maxCount={MAX_TAGS}
      placeholder="Your own words, like “café”"
    />
  );
}
