import { Node } from '@tiptap/react';

/** The place of a tracked file in the message: whole, and moved as a whole. What stands there is made when it leaves. */
export const EditorFile = Node.create({
  name: 'file',
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,

  addAttributes() {
    return {
      fileId: { default: null, parseHTML: (element: HTMLElement) => element.getAttribute('data-file') },
      title: { default: '', parseHTML: (element: HTMLElement) => element.textContent },
    };
  },

  // Before any paragraph takes it.
  parseHTML() {
    return [{ tag: 'p[data-file]', priority: 100 }];
  },

  renderHTML({ node }) {
    const { fileId, title } = node.attrs as { fileId: string; title: string };
    return ['p', { 'data-file': fileId }, title];
  },
});
