import { Injectable } from '@nestjs/common';
import type { Draft, DraftContent, DraftsPage, Recipient } from '@kiraku/core/contract';
import { readWhen } from '@kiraku/core/followups';
import { addressKey, addressProblem, contentOf } from '@kiraku/core/message';
import { Clock } from '../environment/clock.js';
import { FilesService } from '../files/files.service.js';
import { cursorAfter, placeOf, type PageQuery } from '../http/paging.js';
import { invalid, notFound, ProblemException } from '../http/problem.js';
import { AccountService } from '../settings/account.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { cleanBody } from './messageBody.js';
import { TemplatesRepository } from './templates.repository.js';
import { MessagesRepository } from './messages.repository.js';

/** Drafts save themselves while they are written; two windows do not overwrite each other unawares. */
@Injectable()
export class DraftsService {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly templates: TemplatesRepository,
    private readonly accounts: AccountService,
    private readonly files: FilesService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  page({ cursor, limit }: PageQuery): DraftsPage {
    const drafts = this.messages.drafts(placeOf(cursor), limit);
    const places = drafts.map(({ id, updatedAt }) => ({ value: updatedAt, id }));
    return { drafts, total: this.messages.countDrafts(), nextCursor: cursorAfter(places, limit) };
  }

  read(id: number): Draft {
    const draft = this.messages.draft(id);
    if (!draft) throw notFound('draft');
    return draft;
  }

  add(content: DraftContent): Draft {
    const clean = this.cleaned(content);
    const sender = this.accounts.sender();
    return this.changed(() => this.messages.addDraft(clean, sender, this.clock.now()));
  }

  save(id: number, revision: number, content: DraftContent): Draft {
    const clean = this.cleaned(content);
    return this.changed(() => {
      const saved = this.messages.saveDraft(id, revision, clean, this.clock.now());
      if (saved) return saved;
      const current = this.read(id);
      throw new ProblemException(
        409,
        'Changed elsewhere',
        `This draft was saved in another window meanwhile (revision ${current.revision}, yours started from ${revision}). Load it again, or save yours as a new draft.`,
      );
    });
  }

  remove(id: number): void {
    this.changed(() => {
      if (!this.messages.removeDraft(id)) throw notFound('draft');
    });
  }

  /**
   * What was written, as it may be kept.
   *
   * @throws 422 where it names what is not there, or a time that cannot be
   */
  cleaned(content: DraftContent): DraftContent {
    const { templateId } = content;
    if (templateId !== null && !this.templates.isTemplate(templateId))
      throw invalid('There is no such template.', [{ field: 'templateId', message: 'There is no such template.' }]);
    this.checkFollowups(content);
    const files = [...new Map(content.files.map((one) => [one.fileId, { ...one, versionId: null }])).values()];
    this.files.checkKnown(files);
    return { ...contentOf(content), recipients: checked(content.recipients), html: cleanBody(content.html), files };
  }

  private checkFollowups({ reminder, plan }: DraftContent): void {
    const read = reminder && readWhen(reminder.when, this.clock.now(), reminder.zone);
    if (read && 'problem' in read) throw invalid(read.problem, [{ field: 'reminder.when', message: read.problem }]);
    plan?.steps.forEach(({ templateId }, index) => {
      if (this.templates.isTemplate(templateId)) return;
      const message = 'There is no such template.';
      throw invalid(message, [{ field: `plan.steps.${index}.templateId`, message }]);
    });
  }

  private changed<T>(work: () => T): T {
    return this.unit.commit(() => {
      const done = work();
      this.unit.note('drafts');
      return done;
    });
  }
}

/** Each address once, at the first place it was written; an address that cannot be one is refused. */
function checked(recipients: Recipient[]): Recipient[] {
  const unique = new Map<string, Recipient>();
  recipients.forEach(({ kind, name, address }, index) => {
    const problem = addressProblem(address);
    if (problem) throw invalid(problem, [{ field: `recipients.${index}.address`, message: problem }]);
    const key = addressKey(address);
    if (!unique.has(key)) unique.set(key, { kind, name: name.trim(), address });
  });
  return [...unique.values()];
}
