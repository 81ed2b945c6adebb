import fc from 'fast-check';

/** The same inputs each time, so that a failure is a change; others by PROPERTY_SEED=n. */
fc.configureGlobal({ seed: Number(process.env.PROPERTY_SEED ?? 1) });
