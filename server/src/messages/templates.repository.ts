import { Inject, Injectable } from '@nestjs/common';
import { and, asc, count, eq, inArray, isNull, max, sql } from 'drizzle-orm';
import type { DraftFile, SignatureView, TemplateRow, TemplateView } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { isKept } from '../store/listed.js';
import { file, message, signature, template } from '../store/schema.js';

const TEMPLATE = {
  id: template.id,
  name: template.name,
  subject: template.subject,
  html: template.html,
  reminder: template.reminder,
  files: template.files,
  folder: template.folder,
  updatedAt: template.updatedAt,
};

export type TemplateContent = Omit<TemplateView, 'id' | 'updatedAt'>;

/** Templates and signatures: what messages begin with. */
@Injectable()
export class TemplatesRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  templates(): TemplateRow[] {
    return this.database
      .select({
        ...TEMPLATE,
        messages: count(message.id),
        lastSentAt: max(message.sentAt),
        replied: sql<number>`count(*) filter (where ${message.replies} > 0)`,
      })
      .from(template)
      .leftJoin(message, and(eq(message.templateId, template.id), eq(message.state, 'sent'), isKept))
      .where(isNull(template.deletedAt))
      .groupBy(template.id)
      .orderBy(asc(template.name))
      .all();
  }

  /** Also one that was deleted: what is planned with it goes on. */
  template(id: number): TemplateView | undefined {
    return this.database.select(TEMPLATE).from(template).where(eq(template.id, id)).get();
  }

  /** The files of a template that are in the library now: one that was deleted since keeps no message from leaving. */
  filesOf({ files }: Pick<TemplateView, 'files'>): DraftFile[] {
    const ids = files.map(({ fileId }) => fileId);
    const there = this.database
      .select({ id: file.id })
      .from(file)
      .where(and(inArray(file.id, ids), isNull(file.deletedAt)))
      .all();
    return files.filter(({ fileId }) => there.some(({ id }) => id === fileId));
  }

  addTemplate(content: TemplateContent, now: number): TemplateView {
    return this.database
      .insert(template)
      .values({ ...content, createdAt: now, updatedAt: now })
      .returning(TEMPLATE)
      .get();
  }

  saveTemplate(id: number, content: TemplateContent, now: number): TemplateView | undefined {
    return this.database
      .update(template)
      .set({ ...content, updatedAt: now })
      .where(eq(template.id, id))
      .returning(TEMPLATE)
      .get();
  }

  /** Puts a template into a folder; an empty name takes it out of one. */
  setFolder(id: number, folder: string): boolean {
    return this.database.update(template).set({ folder }).where(eq(template.id, id)).run().changes === 1;
  }

  /** Deletes a template, or restores it. The messages that came from it keep its name. */
  setRemoved(id: number, deletedAt: number | null): boolean {
    return this.database.update(template).set({ deletedAt }).where(eq(template.id, id)).run().changes === 1;
  }

  nameOf(id: number | null): string | null {
    if (id === null) return null;
    return this.database.select({ name: template.name }).from(template).where(eq(template.id, id)).get()?.name ?? null;
  }

  isTemplate(id: number): boolean {
    return (
      this.database
        .select({ id: template.id })
        .from(template)
        .where(and(eq(template.id, id)))
        .get() !== undefined
    );
  }

  signatures(): SignatureView[] {
    return this.database.select().from(signature).orderBy(asc(signature.name)).all();
  }

  addSignature(content: Omit<SignatureView, 'id'>): SignatureView {
    return this.database.insert(signature).values(content).returning().get();
  }

  saveSignature(id: number, content: Omit<SignatureView, 'id'>): SignatureView | undefined {
    return this.database.update(signature).set(content).where(eq(signature.id, id)).returning().get();
  }

  removeSignature(id: number): boolean {
    return this.database.delete(signature).where(eq(signature.id, id)).run().changes === 1;
  }
}
