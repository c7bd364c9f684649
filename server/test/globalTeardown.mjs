import { rmSync } from 'node:fs';

export default function globalTeardown() {
  rmSync(process.env['KIRAKU_TESTS'], { recursive: true, force: true });
}
