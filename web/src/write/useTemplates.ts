import type { DraftContent, TemplateRow, TemplateView } from '@kiraku/core/contract';
import { escapeHtml, fillPlaceholders } from '@kiraku/core/message';
import { useFilesQuery } from '../shared/api/filesApi.js';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { useKnown } from '../shared/hooks/useKnown.js';
import type { ChangeDraft } from './useDraft.js';

/** What a message can begin with, its places filled with what is known of the first recipient. */
export function useTemplates(content: DraftContent, change: ChangeDraft) {
  const { data: templates = [] } = useTemplatesQuery(null);
  const known = useKnown(content);
  const { data: library } = useFilesQuery(null, { skip: templates.every(({ files }) => files.length === 0) });

  /** Everything that a template brings along beside its text. */
  const takeRest = ({ id, subject, reminder, files }: TemplateView) =>
    change((now) => ({
      templateId: id,
      subject: now.subject.trim() === '' ? fillPlaceholders(subject, known) : now.subject,
      reminder: now.reminder ?? reminder,
      files: [
        ...now.files,
        ...files.filter(
          ({ fileId }) =>
            !now.files.some((one) => one.fileId === fileId) && library?.some(({ id: there }) => there === fileId),
        ),
      ],
    }));
  const htmlOf = ({ html }: TemplateRow) => fillPlaceholders(html, known, escapeHtml);
  return { templates, takeRest, htmlOf };
}
