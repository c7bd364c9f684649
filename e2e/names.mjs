/* Loaded before the server: names that end with “.reed.example” lead to this machine, as they would by the DNS. */
import dns from 'node:dns';
import { syncBuiltinESMExports } from 'node:module';

const { lookup } = dns;
dns.lookup = (name, ...rest) => lookup(/\.reed\.example$/.test(name) ? '127.0.0.1' : name, ...rest);
syncBuiltinESMExports();
