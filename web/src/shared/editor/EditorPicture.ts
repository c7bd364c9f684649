import Image from '@tiptap/extension-image';

/** What every mail program shows. */
export const PICTURE_TYPES = 'image/png,image/jpeg,image/gif,image/webp';

const CID = /^cid:([0-9a-f]{64})@picture$/;

/** Where the desk itself shows a picture that a message refers to by its Content-ID; null for any other address. */
export function pictureUrl(src: string): string | null {
  const id = CID.exec(src)?.[1];
  return id ? `/api/pictures/${id}` : null;
}

/** A picture of the message: the message keeps its Content-ID, the editor shows what the server has under it. */
export const EditorPicture = Image.extend({
  parseHTML() {
    return [{ tag: 'img[src^="cid:"]' }];
  },
  addNodeView() {
    return ({ node }) => {
      const dom = document.createElement('img');
      const { src, alt } = node.attrs as { src: string; alt: string | null };
      dom.src = pictureUrl(src) ?? '';
      dom.alt = alt ?? '';
      return { dom };
    };
  },
}).configure({ inline: true });
