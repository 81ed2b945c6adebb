import { openAhead } from './ui/job/opened';

// Runs before the page is drawn.
openAhead(window.location.pathname);
