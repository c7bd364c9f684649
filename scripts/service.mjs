/* Prints the unit for systemd, with the paths of this machine. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './lib/steps.mjs';

const unit = readFileSync(join(ROOT, 'service/kiraku.service'), 'utf8');
process.stdout.write(unit.replaceAll('@NODE@', process.execPath).replaceAll('@FOLDER@', ROOT.replace(/\/$/, '')));
