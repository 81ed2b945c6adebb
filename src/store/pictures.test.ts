import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { database } from './database';
import { deleteJobs } from './jobs';
import { findPicture, keepPictures } from './pictures';

beforeEach(() => database.pictures.clear());

describe('engraved systems', () => {
  it('are found by all that they were made of, and by nothing else', async () => {
    await keepPictures([{ of: [800, 40, false, '<score/>'], svg: '<svg/>' }]);
    expect(await findPicture([800, 40, false, '<score/>'])).toBe('<svg/>');
    expect(await findPicture([801, 40, false, '<score/>'])).toBeUndefined();
    expect(await findPicture([800, 40, true, '<score/>'])).toBeUndefined();
    expect(await findPicture([800, 40, false, '<score> '])).toBeUndefined();
  });

  it('that were damaged are made anew', async () => {
    await keepPictures([{ of: ['a'], svg: '<svg>one</svg>' }]);
    await database.pictures.toCollection().modify({ svg: '<svg>two</svg>' });
    expect(await findPicture(['a'])).toBeUndefined();
    await database.pictures.toCollection().modify({ svg: 7 as never });
    expect(await findPicture(['a'])).toBeUndefined();
  });

  it('make room for others, the oldest first; the longest are not kept', async () => {
    await keepPictures([{ of: ['long'], svg: 'x'.repeat(3_000_001) }]);
    expect(await findPicture(['long'])).toBeUndefined();
    for (let at = 0; at < 30; at++) {
      await keepPictures([{ of: [at], svg: `${at}` }]);
      await database.pictures.toCollection().modify((row) => {
        row.at = Number(row.svg);
      });
    }
    expect(await database.pictures.count()).toBe(24);
    expect(await findPicture([29])).toBe('29');
    expect(await findPicture([0])).toBeUndefined();
  });

  it('go with jobs that are deleted', async () => {
    await keepPictures([{ of: ['a'], svg: '<svg/>' }]);
    await deleteJobs(['some']);
    expect(await database.pictures.count()).toBe(0);
  });
});
