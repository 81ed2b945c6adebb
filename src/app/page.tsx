import { JobsPage } from '../ui/jobs/JobsPage';

export default function Page() {
  return <JobsPage />;
}
