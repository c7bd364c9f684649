import { Global, Inject, Module, type OnApplicationShutdown } from '@nestjs/common';
import { CONFIG, databaseFile, type Config } from '../environment/config.js';
import { Changes } from './changes.js';
import { DATABASE, openDatabase, type Database } from './database.js';
import { UnitOfWork } from './unitOfWork.js';

/** The one database connection, for everybody. */
@Global()
@Module({
  providers: [
    Changes,
    UnitOfWork,
    { provide: DATABASE, inject: [CONFIG], useFactory: (config: Config) => openDatabase(databaseFile(config)) },
  ],
  exports: [Changes, DATABASE, UnitOfWork],
})
export class StoreModule implements OnApplicationShutdown {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  onApplicationShutdown(): void {
    this.database.$client.close();
  }
}
