declare module 'mailsplit' {
  import type { Transform } from 'node:stream';

  /** A MIME entity whose header has been read; `parentNode` is false for the outermost one. */
  export interface MimeNode {
    type: 'node';
    root: boolean;
    parentNode: MimeNode | false;
    contentType: string | false;
    charset: string | false;
    encoding: string;
    disposition: string | false;
    filename: string | false;
    multipart: string | false;
    getHeaders(): Buffer;
  }

  /** A run of octets: of a leaf's body (`body`), or of anything else (`data`). */
  export interface MimeChunk {
    type: 'body' | 'data';
    node: MimeNode;
    value: Buffer;
  }

  export class Splitter extends Transform {
    constructor(options: { ignoreEmbedded?: boolean; maxHeadSize?: number; maxChildNodes?: number });
  }
}
