import { constants, setPriority } from 'node:os';
import { openToRead } from '../store/database.js';

/* A program of its own: says whether the database that is named is whole, while others use it. */

setPriority(constants.priority.PRIORITY_LOW);
const { $client: client } = openToRead(process.argv[2]!);
process.stdout.write(String(client.pragma('quick_check(1)', { simple: true })));
client.close();
