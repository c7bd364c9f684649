import { Button, Form, Input } from 'antd';
import { useDeferredValue } from 'react';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { personText } from '@kiraku/core/sentences';
import type { PersonRequest, PersonRow } from '@kiraku/core/contract';
import { useSavePersonMutation } from '../shared/api/privacyApi.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { TagsField } from './TagsField.js';
import { changedOf } from './changedOf.js';
import styles from './people.module.css';

type Fields = Pick<Required<PersonRequest>, 'name' | 'company' | 'phone' | 'tags'>;

/** A row of the list of people as a form; Enter saves it, Escape leaves it. */
export function EditPerson({ person, close }: { person: PersonRow; close(): void }) {
  const { id, name, company, phone, tags } = person;
  const before: Fields = { name, company, phone, tags };
  const [save, { error, isLoading }] = useSavePersonMutation();
  const offerUndo = useUndo();
  // The press shows at once; this field, which costs more than all the others, a moment later.
  const withTags = useDeferredValue(true, false);
  const finish = async (fields: Fields) => {
    const changed = changedOf(fields, before);
    if (Object.keys(changed).length === 0) return close();
    const { error: failed } = await save({ id, ...changed });
    if (failed) return;
    close();
    const undone = Object.fromEntries(Object.keys(changed).map((field) => [field, before[field as keyof Fields]]));
    offerUndo({
      key: `person ${id}`,
      title: 'Saved',
      description: personText({ ...person, ...changed }),
      undo: () => void save({ id, ...undone }),
    });
  };
  return (
    <Form<Fields>
      className={styles.edit}
      layout="vertical"
      requiredMark={false}
      initialValues={before}
      aria-label={`Edit ${personText(person)}`}
      onFinish={(fields) => void finish(fields)}
      onKeyDown={(press) => press.key === 'Escape' && close()}
    >
      <Form.Item name="name" label="Name">
        <Input autoFocus maxLength={MESSAGE_LIMITS.maxNameChars} />
      </Form.Item>
      <Form.Item name="company" label="Company">
        <Input maxLength={MESSAGE_LIMITS.maxNameChars} />
      </Form.Item>
      <Form.Item name="phone" label="Phone">
        <Input type="tel" maxLength={40} />
      </Form.Item>
      <Form.Item name="tags" label="Tags">
        {withTags ? <TagsField /> : <Input disabled />}
      </Form.Item>
      <span className={styles.editEnd}>
        <Button type="primary" htmlType="submit" loading={isLoading}>
          Save
        </Button>
        <Button onClick={close}>Cancel</Button>
      </span>
      <FormProblem error={error} />
    </Form>
  );
}
