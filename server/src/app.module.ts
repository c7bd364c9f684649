import { Module, type DynamicModule } from '@nestjs/common';
import { Clock } from './environment/clock.js';
import { CONFIG, type Config } from './environment/config.js';
import { ArchiveModule } from './archive/archive.module.js';
import { BackupModule } from './backup/backup.module.js';
import { CheckupModule } from './checkup/checkup.module.js';
import { FilesModule } from './files/files.module.js';
import { FollowingModule } from './following/following.module.js';
import { HistoryModule } from './history/history.module.js';
import { IncomingModule } from './incoming/incoming.module.js';
import { MessagesModule } from './messages/messages.module.js';
import { NotificationsModule } from './notifications/notifications.module.js';
import { DeliveryModule } from './delivery/delivery.module.js';
import { PeopleModule } from './people/people.module.js';
import { PrivacyModule } from './privacy/privacy.module.js';
import { ReportsModule } from './reports/reports.module.js';
import { RoundsModule } from './rounds/rounds.module.js';
import { SentModule } from './sent/sent.module.js';
import { TodayModule } from './today/today.module.js';
import { SessionModule } from './session/session.module.js';
import { SettingsModule } from './settings/settings.module.js';
import { SummaryModule } from './summary/summary.module.js';
import { StoreModule } from './store/store.module.js';
import { RefusedModule } from './refused/refused.module.js';
import { SubmissionModule } from './submission/submission.module.js';
import { TlsModule } from './tls/tls.module.js';
import { TrackingModule } from './tracking/tracking.module.js';
import { WorkModule } from './work/work.module.js';

@Module({})
export class AppModule {
  static with(config: Config, clock: Clock): DynamicModule {
    return {
      module: AppModule,
      imports: [
        {
          module: ConfigModule,
          global: true,
          providers: [
            { provide: CONFIG, useValue: config },
            { provide: Clock, useValue: clock },
          ],
          exports: [CONFIG, Clock],
        },
        StoreModule,
        WorkModule,
        SettingsModule,
        SessionModule,
        TrackingModule,
        FilesModule,
        DeliveryModule,
        MessagesModule,
        RoundsModule,
        SentModule,
        PeopleModule,
        TodayModule,
        RefusedModule,
        SubmissionModule,
        HistoryModule,
        IncomingModule,
        FollowingModule,
        NotificationsModule,
        ReportsModule,
        SummaryModule,
        PrivacyModule,
        ArchiveModule,
        BackupModule,
        TlsModule,
        CheckupModule,
      ],
    };
  }
}

@Module({})
class ConfigModule {}
