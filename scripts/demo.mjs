// Installs, builds and starts the application with the demo piece on its shelf.
import { build, install } from './tools.mjs';

install();
build();
console.log(`\nDragoman opens at http://localhost:${process.env.PORT ?? '4700'}. Stop it with Ctrl C.\n`);
await import('./serve.mjs');
