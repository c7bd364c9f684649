import { Button, Popover } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { DraftContent, TemplateView } from '@kiraku/core/contract';
import { escapeHtml, fillPlaceholders } from '@kiraku/core/message';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { useKnown } from '../shared/hooks/useKnown.js';
import templateChoicesStyles from '../shared/ui/templateChoices.module.css';

interface Props {
  content: DraftContent;
  /** The message before anything was written: its signature. */
  blankHtml: string;
  onChange(part: Partial<DraftContent>): void;
}

/** Puts a template into the message, its places filled with what is known of the first recipient. */
export function TemplateButton({ content, blankHtml, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const { data: templates = [] } = useTemplatesQuery(null);
  const known = useKnown(content);

  function insert({ id, subject, html, reminder }: TemplateView): void {
    const filled = fillPlaceholders(html, known, escapeHtml);
    const untouched = content.html === '' || content.html === blankHtml;
    onChange({
      templateId: id,
      subject: content.subject.trim() === '' ? fillPlaceholders(subject, known) : content.subject,
      reminder: content.reminder ?? reminder,
      html: untouched ? filled + blankHtml : content.html + filled,
    });
    setOpen(false);
  }

  const list =
    templates.length === 0 ? (
      <p className="soft">
        There is none yet. Write a message and keep it as one, or <Link to="/templates">write one</Link>.
      </p>
    ) : (
      <ul className={templateChoicesStyles.templateChoices}>
        {templates.map((template) => (
          <li key={template.id}>
            <Button type="link" onClick={() => insert(template)}>
              {template.name}
            </Button>
            <span className="soft">{template.subject}</span>
          </li>
        ))}
      </ul>
    );
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      content={list}
      placement="bottomRight"
      title="Templates"
    >
      <Button type="text" size="small">
        Start from a template
      </Button>
    </Popover>
  );
}
