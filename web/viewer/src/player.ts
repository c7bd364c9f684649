import type { ViewerFile } from '@kiraku/core/contract';
import type { Measuring } from './measuring.js';
import { make, say, stage } from './stage.js';

/** Plays a film or a recording in place. */
export function showPlayer(file: ViewerFile, measuring: Measuring): void {
  const player = make(file.shows === 'video' ? 'video' : 'audio', { class: 'player', 'aria-label': file.name });
  player.controls = true;
  player.preload = 'metadata';
  player.src = file.content;
  player.addEventListener('loadedmetadata', () => measuring.start());
  for (const [event, is] of [
    ['playing', true],
    ['pause', false],
    ['ended', false],
    ['waiting', false],
  ] as const)
    player.addEventListener(event, () => measuring.happens({ kind: 'playing', is }));
  player.addEventListener('error', () => say(file.sentences.notPlayed));
  say('');
  stage.append(player);
}
