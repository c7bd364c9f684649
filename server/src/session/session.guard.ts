import { Injectable, SetMetadata, type CanActivate, type ExecutionContext } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request } from 'express';
import { sessionToken } from '../http/cookies.js';
import { ProblemException } from '../http/problem.js';
import { SessionService } from './session.service.js';

const OPEN = 'open to everybody';

/** Marks a route that needs no sign-in. */
export const OpenToEverybody = () => SetMetadata(OPEN, true);

/** Lets nobody in without a session, unless the route says otherwise. */
@Injectable()
export class SessionGuard implements CanActivate {
  constructor(
    private readonly sessions: SessionService,
    private readonly reflector: Reflector,
  ) {}

  canActivate(context: ExecutionContext): boolean {
    if (this.reflector.getAllAndOverride<boolean>(OPEN, [context.getHandler(), context.getClass()])) return true;
    const request = context.switchToHttp().getRequest<Request>();
    if (this.sessions.use(sessionToken(request))) return true;
    throw new ProblemException(401, 'Not signed in', 'Sign in with your passphrase.');
  }
}
