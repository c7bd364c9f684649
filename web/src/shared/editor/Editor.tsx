import {
  BoldOutlined,
  FontSizeOutlined,
  ItalicOutlined,
  LinkOutlined,
  MenuUnfoldOutlined,
  OrderedListOutlined,
  PictureOutlined,
  RedoOutlined,
  UnderlineOutlined,
  UndoOutlined,
  UnorderedListOutlined,
} from '@ant-design/icons';
import { EditorContent, useEditor, useEditorState, type Editor as Tiptap } from '@tiptap/react';
import Link from '@tiptap/extension-link';
import StarterKit from '@tiptap/starter-kit';
import { App, Button, Tooltip, Upload } from 'antd';
import { useEffect, useRef, type ReactNode } from 'react';
import { withoutOffice } from '@kiraku/core/message';
import { problemOf, type QueryError } from '../api/api.js';
import { useAddPictureMutation } from '../api/draftsApi.js';
import { Completions, type Completion } from './Completions.js';
import { EditorFile } from './EditorFile.js';
import { EditorPicture, PICTURE_TYPES } from './EditorPicture.js';
import { LinkButton } from './LinkButton.js';
import styles from './editor.module.css';

/** Puts a mark at the cursor of the message; false where there is none. */
export type PlaceMark = (mark: string) => boolean;

type Chain = ReturnType<Tiptap['chain']>;

interface Tool {
  label: string;
  icon: ReactNode;
  run(chain: Chain): Chain;
  /** What it is called in the document, where it can hold at the cursor. */
  holds?: [name: string, attributes?: Record<string, unknown>];
}

const tool = (
  label: string,
  icon: ReactNode,
  run: Tool['run'],
  ...holds: [string?, Record<string, unknown>?]
): Tool => ({
  label,
  icon,
  run,
  ...(holds[0] !== undefined && { holds: holds as Tool['holds'] }),
});

const TOOLS: Tool[] = [
  tool('Bold (Ctrl+B)', <BoldOutlined />, (chain) => chain.toggleBold(), 'bold'),
  tool('Italic (Ctrl+I)', <ItalicOutlined />, (chain) => chain.toggleItalic(), 'italic'),
  tool('Underline (Ctrl+U)', <UnderlineOutlined />, (chain) => chain.toggleUnderline(), 'underline'),
  tool('Heading (Ctrl+Alt+2)', <FontSizeOutlined />, (chain) => chain.toggleHeading({ level: 2 }), 'heading', {
    level: 2,
  }),
  tool('List (Ctrl+Shift+8)', <UnorderedListOutlined />, (chain) => chain.toggleBulletList(), 'bulletList'),
  tool('Numbered list (Ctrl+Shift+7)', <OrderedListOutlined />, (chain) => chain.toggleOrderedList(), 'orderedList'),
  tool('Quotation (Ctrl+Shift+B)', <MenuUnfoldOutlined />, (chain) => chain.toggleBlockquote(), 'blockquote'),
  tool('Undo (Ctrl+Z)', <UndoOutlined />, (chain) => chain.undo()),
  tool('Redo (Ctrl+Shift+Z)', <RedoOutlined />, (chain) => chain.redo()),
];

interface EditorProps {
  html: string;
  label?: string;
  onChange(html: string): void;
  /** Gets what puts the place of a file at the cursor. */
  onPlace?(place: PlaceMark): void;
  /** Gets what puts a text at the cursor. */
  onInsert?(insert: (text: string) => void): void;
  /** What is offered where its name is typed. */
  completions?: readonly Completion[];
}

/** A link that remembers whether it is to be left alone. */
const EditorLink = Link.extend({
  addAttributes() {
    return {
      ...this.parent?.(),
      track: {
        default: null,
        parseHTML: (element: HTMLElement) => element.getAttribute('data-track'),
        renderHTML: ({ track }: { track?: string | null }) => (track ? { 'data-track': track } : {}),
      },
    };
  },
});

/** The body of the message. The HTML is cleaned by the server once more: what the editor writes is not trusted. */
export function Editor({ html, label = 'Message', onChange, onPlace, onInsert, completions }: EditorProps) {
  const written = useRef(html);
  const { notification } = App.useApp();
  const [addPicture] = useAddPictureMutation();
  const takePictures = (files: FileList | undefined) => {
    const shown = [...(files ?? [])].filter((file) => PICTURE_TYPES.includes(file.type) && file.type !== '');
    if (shown.length > 0) void insertPictures(shown);
    return shown.length > 0;
  };
  const editor = useEditor({
    extensions: [
      StarterKit.configure({ link: false, codeBlock: false }),
      EditorPicture,
      EditorFile,
      EditorLink.configure({
        openOnClick: false,
        autolink: true,
        defaultProtocol: 'https',
        HTMLAttributes: { target: null, rel: null },
      }),
    ],
    content: html,
    // Its style sheet is ours: a style element of its own would need the policy loosened.
    injectCSS: false,
    editorProps: {
      attributes: { 'aria-label': label, role: 'textbox', 'aria-multiline': 'true', class: styles.messageEditor! },
      transformPastedHTML: withoutOffice,
      handlePaste: (_view, event) => takePictures(event.clipboardData?.files),
      handleDrop: (_view, event) => takePictures(event.dataTransfer?.files),
    },
    onUpdate: ({ editor: changed }) => {
      written.current = changed.isEmpty ? '' : changed.getHTML();
      onChange(written.current);
    },
  });
  async function insertPictures(files: File[]): Promise<void> {
    for (const file of files) {
      try {
        const { url } = await addPicture(file).unwrap();
        editor
          .chain()
          .focus()
          .setImage({ src: url, alt: file.name.replace(/\.\w+$/, '') })
          .run();
      } catch (error) {
        const { title, detail } = problemOf(error as QueryError);
        notification.open({ title, description: detail, role: 'status' });
      }
    }
  }

  useEffect(() => {
    onPlace?.((mark) => placeAfter(editor, mark));
  }, [editor, onPlace]);

  useEffect(() => {
    onInsert?.((text) => void editor.chain().focus().insertContent({ type: 'text', text }).run());
  }, [editor, onInsert]);

  // What the margin changes (a link's words, say) comes in here; what the editor wrote itself is there already.
  useEffect(() => {
    if (html === written.current) return;
    written.current = html;
    editor.commands.setContent(html, { emitUpdate: false });
  }, [editor, html]);
  return (
    <>
      <Toolbar editor={editor} onPictures={(files) => void insertPictures(files)} />
      <div className={styles.page}>
        <EditorContent editor={editor} className={styles.messageEditorFrame} />
        {completions && <Completions editor={editor} completions={completions} />}
      </div>
    </>
  );
}

function Toolbar({ editor, onPictures }: { editor: Tiptap; onPictures(files: File[]): void }) {
  const states = useEditorState({
    editor,
    selector: ({ editor: current }) =>
      TOOLS.map(({ run, holds }) => ({
        holds: holds !== undefined && current.isActive(...holds),
        possible: run(current.can().chain()).run(),
      })),
  });
  return (
    <div className={styles.tools} role="toolbar" aria-label="Formatting">
      {TOOLS.map(({ label, icon, run, holds }, index) => (
        <Tooltip key={label} title={label}>
          <Button
            type="text"
            size="small"
            icon={icon}
            aria-label={label}
            aria-pressed={holds && states[index]!.holds}
            className={states[index]!.holds ? styles.toolHolds : ''}
            disabled={!states[index]!.possible}
            onClick={() => run(editor.chain().focus()).run()}
          />
        </Tooltip>
      ))}
      <LinkButton editor={editor} icon={<LinkOutlined />} />
      <Upload
        accept={PICTURE_TYPES}
        multiple
        showUploadList={false}
        beforeUpload={(file) => {
          onPictures([file]);
          return false;
        }}
      >
        <Tooltip title="Picture">
          <Button type="text" size="small" icon={<PictureOutlined />} aria-label="Picture" />
        </Tooltip>
      </Upload>
    </div>
  );
}

/** Beside what is chosen, never in its place; an empty line is used up. */
function placeAfter(editor: Tiptap, mark: string): boolean {
  const { $from, to } = editor.state.selection;
  const isEmptyLine = $from.parent.isTextblock && $from.parent.content.size === 0 && $from.depth > 0;
  const at = isEmptyLine ? { from: $from.before(), to: $from.after() } : to;
  return editor.chain().insertContentAt(at, `${mark}<p></p>`).run();
}
