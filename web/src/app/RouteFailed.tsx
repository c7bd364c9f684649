import { Alert, Button } from 'antd';
import { useRouteError } from 'react-router';
import pageStyles from '../shared/ui/page.module.css';

/** When a page itself fails: say so, and offer to load it anew (a new version may have come meanwhile). */
export function RouteFailed() {
  const error = useRouteError();
  return (
    <div className={pageStyles.page}>
      <Alert
        type="warning"
        showIcon
        title="This page could not be shown"
        description={error instanceof Error ? error.message : 'The reason is not known.'}
        action={<Button onClick={() => window.location.reload()}>Reload</Button>}
      />
    </div>
  );
}
