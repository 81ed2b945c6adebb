// What the page fetches beside its code, put into `public/`: sounds, the model that hears notes, faces for PDF, the engraver, the workers.
await import('./bank.mjs');
await import('./note-model.mjs');
await import('./print-fonts.mjs');
await import('./engraver.mjs');
await import('./workers.mjs');
