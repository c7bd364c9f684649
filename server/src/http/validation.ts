import { ValidationPipe, type ValidationError } from '@nestjs/common';
import { invalid } from './problem.js';

/** Checks every body and query against its class; what the class does not name is refused. */
export const validationPipe = () =>
  new ValidationPipe({
    whitelist: true,
    forbidNonWhitelisted: true,
    transform: true,
    exceptionFactory: (errors) => {
      const fields = errors.flatMap((error) => flatten(error, ''));
      return invalid(fields.map((field) => field.message).join(' '), fields);
    },
  });

function flatten(error: ValidationError, prefix: string): { field: string; message: string }[] {
  const field = prefix + error.property;
  const own = Object.values(error.constraints ?? {}).map((message) => ({ field, message: sentence(message) }));
  return [...own, ...(error.children ?? []).flatMap((child) => flatten(child, `${field}.`))];
}

function sentence(message: string): string {
  const capital = message.charAt(0).toUpperCase() + message.slice(1);
  return capital.endsWith('.') ? capital : `${capital}.`;
}
