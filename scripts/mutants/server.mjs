export async function tryServer() {
  return { noticed: 0, tried: 0 };
}
