import { Button, Popover } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { TemplateRow } from '@kiraku/core/contract';
import templateChoicesStyles from '../shared/ui/templateChoices.module.css';

interface Props {
  templates: readonly TemplateRow[];
  onChoose(template: TemplateRow): void;
}

/** Puts a template into the message. */
export function TemplateButton({ templates, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const list =
    templates.length === 0 ? (
      <p className="soft">
        There is none yet. Write a message and keep it as one, or <Link to="/templates">write one</Link>.
      </p>
    ) : (
      <>
        <ul className={templateChoicesStyles.templateChoices}>
          {templates.map((template) => (
            <li key={template.id}>
              <Button
                type="link"
                onClick={() => {
                  onChoose(template);
                  setOpen(false);
                }}
              >
                {template.name}
              </Button>
              <span className="soft">{[template.folder, template.subject].filter(Boolean).join(' · ')}</span>
            </li>
          ))}
        </ul>
        <p className="soft">Or type its name in the message.</p>
      </>
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
