/** Two soft tones, a fourth apart, in hertz. */
const TONES = [523.25, 698.46];
const TONE_SECONDS = 0.5;
const LOUDNESS = 0.05;

let context: AudioContext | undefined;

/** Plays the sound of a notification. A browser that was not touched yet keeps silent. */
export function playSound(): void {
  context ??= new AudioContext();
  void context.resume().catch(() => undefined);
  TONES.forEach((frequency, index) => tone(context!, frequency, index * TONE_SECONDS * 0.4));
}

function tone(audio: AudioContext, frequency: number, afterSeconds: number): void {
  const start = audio.currentTime + afterSeconds;
  const loudness = new GainNode(audio, { gain: 0 });
  loudness.gain.setValueAtTime(0, start);
  loudness.gain.linearRampToValueAtTime(LOUDNESS, start + 0.03);
  loudness.gain.exponentialRampToValueAtTime(0.0001, start + TONE_SECONDS);
  loudness.connect(audio.destination);
  const voice = new OscillatorNode(audio, { frequency });
  voice.connect(loudness);
  voice.start(start);
  voice.stop(start + TONE_SECONDS);
}
