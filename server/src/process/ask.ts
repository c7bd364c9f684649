import { createInterface } from 'node:readline';

/** Asks on the terminal, or reads a line of a pipe; nothing of what is typed is shown. Empty where there is none. */
export function askInSecret(question: string): Promise<string> {
  const { stdin, stdout } = process;
  const reader = createInterface({ input: stdin, output: stdout, terminal: stdin.isTTY === true });
  stdout.write(question);
  // What the library would echo.
  if (stdin.isTTY) Object.assign(reader, { _writeToOutput: () => undefined });
  return new Promise((resolve) => {
    reader.once('line', (line) => {
      resolve(line);
      reader.close();
      stdout.write('\n');
    });
    reader.once('close', () => resolve(''));
  });
}
