import { Button } from 'antd';
import { PEOPLE_ORDERS, PEOPLE_SHOWN } from '@kiraku/core/contract';
import { DEFAULT_PEOPLE_VIEW, peopleEntriesOf, type PeopleView } from '@kiraku/core/people';
import { PEOPLE_ORDER_TEXTS, PEOPLE_SHOWN_TEXTS, tagText } from '@kiraku/core/sentences';
import { PERIODS, counted, periodWords } from '@kiraku/core/time';
import { useTagsQuery } from '../shared/api/peopleApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { Choice, WordChoice } from '../shared/ui/Choice.js';
import pageStyles from '../shared/ui/page.module.css';

interface PeopleSentenceProps {
  view: PeopleView;
  /** Unknown until they are counted. */
  total: number | undefined;
  onChange(part: Partial<PeopleView>): void;
}

/** The filter of the people as one sentence, whose underlined words open the choices. */
export function PeopleSentence({ view, total, onChange }: PeopleSentenceProps) {
  const now = useNow();
  const { data: tags = [] } = useTagsQuery(null);
  const tagOptions = [
    { value: '', label: tagText('') },
    ...tags.map(({ tag, people }) => ({ value: tag, label: `${tag} (${people})` })),
  ];
  return (
    <p className={pageStyles.sentence}>
      Showing{' '}
      <WordChoice
        label="Who is shown"
        value={view.show}
        values={PEOPLE_SHOWN}
        texts={PEOPLE_SHOWN_TEXTS}
        onChoose={(show) => onChange({ show })}
      />{' '}
      with{' '}
      <Choice
        label="Tag"
        value={view.tag}
        options={tagOptions}
        words={tagText(view.tag)}
        onChoose={(tag) => onChange({ tag })}
      />
      {', '}
      last contact{' '}
      <Choice
        label="Last contact"
        value={view.contact}
        options={PERIODS.map(({ name, words }) => ({ value: name, label: words }))}
        words={periodWords(view.contact, now)}
        onChoose={(contact) => onChange({ contact })}
      />
      {', '}
      sorted by{' '}
      <WordChoice
        label="Sorted by"
        value={view.order}
        values={PEOPLE_ORDERS}
        texts={PEOPLE_ORDER_TEXTS}
        onChoose={(order) => onChange({ order })}
      />
      {'. '}
      {total !== undefined && <span className="figures">{counted(total, 'person', 'people')}.</span>}{' '}
      {peopleEntriesOf(view).length > 0 && (
        <Button type="link" size="small" onClick={() => onChange(DEFAULT_PEOPLE_VIEW)}>
          Clear filters
        </Button>
      )}
    </p>
  );
}
