import { describe, expect, it } from 'vitest';
import { checkMessage } from './check-message';
import { EngraveRequest } from './engrave-request';
import {
  BarTableRequest,
  DeliveryRequest,
  EditBeatsRequest,
  SystemsRequest,
  TimelineRequest,
  toBeatChange,
  WindowRequest,
} from './messages';

describe('messages at the worker door', () => {
  it('pass when they are right, without what does not belong', () => {
    expect(
      checkMessage(WindowRequest, { parts: ['P1/t1c1', 'P1/t12c3s2'], from: 0, to: 4, extra: 1 }),
    ).toEqual({
      parts: ['P1/t1c1', 'P1/t12c3s2'],
      from: 0,
      to: 4,
    });
    expect(checkMessage(DeliveryRequest, { format: 'mxl' }).format).toBe('mxl');
  });

  it.each([
    ['a part that is none', WindowRequest, { parts: ['Flute'], from: 0, to: 4 }],
    ['a bar that is no whole number', WindowRequest, { parts: ['P1/t1c1'], from: 0.5, to: 4 }],
    ['a bar before the first', WindowRequest, { parts: ['P1/t1c1'], from: -1, to: 4 }],
    ['no width', SystemsRequest, { parts: ['P1/t1c1'] }],
    ['a width of nothing', SystemsRequest, { parts: ['P1/t1c1'], width: Number.NaN }],
    ['an unknown form', DeliveryRequest, { format: 'pdf' }],
    ['a document that is no text', EngraveRequest, { document: 7, width: 800, scale: 40 }],
    ['a scale beyond sense', EngraveRequest, { document: '<x/>', width: 800, scale: 4000 }],
    ['a rate that no machine runs at', BarTableRequest, { rate: '23', start: '00:00:00:00' }],
    ['a start that is no time code', BarTableRequest, { rate: '25', start: 'noon' }],
    ['something else to hear', TimelineRequest, { heard: 'radio' }],
    ['nothing', DeliveryRequest, null],
    ['a list', DeliveryRequest, []],
  ])('are refused: %s', (_, type, data) => {
    expect(() => checkMessage<object>(type, data)).toThrow(TypeError);
  });
});

const request = (data: object) => checkMessage(EditBeatsRequest, data);

describe('a request to change beats', () => {
  it.each([
    { edit: 'nudge' },
    { edit: 'move', index: -1, seconds: 1 },
    { edit: 'move', index: 1, seconds: Number.NaN },
    { edit: 'count', index: 0, perBar: 0 },
    { edit: 'unit', unit: 3 },
    { edit: 'tap', taps: ['a'], perBar: 4 },
  ])('is refused when it is %j', (data) => {
    expect(() => request(data)).toThrow(TypeError);
  });

  it.each([{ edit: 'move', index: 1 }, { edit: 'add' }, { edit: 'tap', taps: [1, 2] }, { edit: 'unit' }])(
    'says what is missing in %j',
    (data) => {
      expect(() => toBeatChange(request(data))).toThrow(/The edit has no (seconds|perBar|unit)/);
    },
  );

  it.each([
    { edit: 'move', index: 1, seconds: 2 },
    { edit: 'add', seconds: 2 },
    { edit: 'remove', index: 3 },
    { edit: 'bar', index: 3 },
    { edit: 'count', index: 3, perBar: 3 },
    { edit: 'tap', taps: [1, 2], perBar: 4 },
    { edit: 'unit', unit: 1.5 },
    { edit: 'pulse', every: 3, places: 2 },
    { edit: 'halve' },
    { edit: 'double' },
    { edit: 'find' },
    { edit: 'file' },
  ])('is taken as it is: %j', (data) => {
    expect(toBeatChange(request(data))).toEqual(data);
  });
});
