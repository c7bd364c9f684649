import { Injectable } from '@nestjs/common';
import type { PlanView, StepRequest } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { FollowupsRepository } from '../followups/followups.repository.js';
import { FollowupsService } from '../followups/followups.service.js';
import { invalid, notFound } from '../http/problem.js';
import { TemplatesRepository } from '../messages/templates.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { FollowupViews } from './followupViews.js';
import { PlanSteps } from './planSteps.js';
import { readTime } from './readTime.js';

/** What the user changes of a plan that runs. What is due by it then goes after the commit. */
@Injectable()
export class PlansService {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly service: FollowupsService,
    private readonly steps: PlanSteps,
    private readonly templates: TemplatesRepository,
    private readonly views: FollowupViews,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** Nothing more of it is sent. */
  stop(id: number): PlanView {
    const plan = this.followups.plan(id);
    if (!plan) throw notFound('plan');
    this.unit.commit(() => this.service.advance(plan, { kind: 'ended', why: 'Stopped by you' }));
    return this.views.plan(id);
  }

  /** Gives the next message of a plan another time, or makes it from another template. */
  saveStep(id: number, { when, zone, templateId }: StepRequest): PlanView {
    const { step, plan } = this.plannedStep(id);
    const set = {
      ...(when !== undefined && { dueAt: readTime(when, this.clock.now(), zone ?? plan.zone), reason: null }),
      ...(templateId !== undefined && { templateId }),
    };
    if (templateId !== undefined && !this.templates.isTemplate(templateId))
      throw invalid('There is no such template.', [{ field: 'templateId', message: 'There is no such template.' }]);
    if (when !== undefined && step.dueAt === null)
      throw invalid('Its time counts from the message before it, which is not sent yet. Change that one first.');
    this.unit.commit(() => {
      this.followups.setStep(id, set);
      this.unit.note({ messageId: plan.messageId });
    });
    return this.views.plan(plan.id);
  }

  /** Takes one message out of a plan. */
  leaveOut(id: number): PlanView {
    const { step, plan } = this.plannedStep(id);
    const index = plan.steps.findIndex((one) => one.id === step.id);
    this.unit.commit(() => this.service.advance(plan, { kind: 'omitted', index }));
    return this.views.plan(plan.id);
  }

  /** The message of a step, filled with what is known. */
  stepBody(id: number) {
    const { step, plan } = this.plannedStep(id);
    return this.steps.bodyOf(plan, step);
  }

  private plannedStep(id: number) {
    const step = this.followups.step(id);
    const plan = step && this.followups.plan(step.planId);
    if (!step || !plan) throw notFound('step');
    if (plan.state !== 'running' || step.state !== 'planned')
      throw invalid('This message was sent, or will not be sent any more.');
    return { step, plan };
  }
}
