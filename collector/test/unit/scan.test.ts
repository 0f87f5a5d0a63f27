import { Gathering, NO_REFUSALS, awayByNetwork, exceptionFault, planRequests, type TagOf } from '../../src/index.ts';
import { tagAt } from '../tags.ts';

const tag = (
  id: number,
  area: 'coil' | 'holding',
  address: number,
  type: 'uint16' | 'float32' = 'uint16',
): TagOf<'modbus-tcp'> => tagAt(id, { area, address, type, order: 'ABCD' });

describe('requests', () => {
  test('read neighbours together and areas apart', () => {
    const requests = planRequests(
      [tag(1, 'holding', 0), tag(2, 'holding', 1, 'float32'), tag(3, 'holding', 50), tag(4, 'coil', 0)],
      NO_REFUSALS,
    );
    expect(requests.map(({ area, start, length, items }) => [area, start, length, items.map(({ id }) => id)])).toEqual([
      ['coil', 0, 1, [4]],
      ['holding', 0, 3, [1, 2]],
      ['holding', 50, 1, [3]],
    ]);
  });
  test('read a tag alone whose neighbours suffered from it', () => {
    const requests = planRequests([tag(1, 'holding', 0), tag(2, 'holding', 1)], {
      refused: new Set([2]),
      strict: new Set(),
    });
    expect(requests).toHaveLength(2);
  });
  test('read nothing along near addresses that the device refuses', () => {
    const near = [tag(1, 'holding', 0), tag(2, 'holding', 3)];
    expect(planRequests(near, NO_REFUSALS)).toHaveLength(1);
    expect(planRequests(near, { refused: new Set(), strict: new Set([1, 2]) })).toHaveLength(2);
  });
  test('a hundred registers are one request', () => {
    const many = Array.from({ length: 100 }, (_, i) => tag(i, 'holding', i));
    expect(planRequests(many, NO_REFUSALS)).toHaveLength(1);
  });
});

describe('gathering', () => {
  test('hands over samples by tag and time, joins watches that touch, keeps the last word on an outage', () => {
    const gathering = new Gathering();
    gathering.sample(2, 20, 1, 0);
    gathering.sample(1, 30, 2, 0);
    gathering.sample(1, 10, 3, 0);
    gathering.watch({ source: 1, version: 1, from: 0, to: 5 });
    gathering.watch({ source: 1, version: 1, from: 5, to: 9 });
    gathering.watch({ source: 1, version: 1, from: 20, to: 25 });
    const outage = {
      source: 1,
      tag: null,
      from: 9,
      to: null,
      cause: 'source' as const,
      sentence: 'away',
      code: null,
      recoverable: false,
      within: false,
    };
    gathering.outage(outage);
    gathering.outage({ ...outage, to: 20 });
    const { frames, watches, outages } = gathering.take();
    const [frame] = frames;
    expect([...frame!.tags!]).toEqual([1, 1, 2]);
    expect([...frame!.times]).toEqual([10, 30, 20]);
    expect(watches.map(({ from, to }) => [from, to])).toEqual([
      [0, 9],
      [20, 25],
    ]);
    expect(outages).toEqual([{ ...outage, to: 20 }]);
    expect(gathering.isEmpty).toBe(true);
  });
});

describe('faults', () => {
  // Modbus Application Protocol V1.1b3, section 7.
  test('name the exception of the standard and what to do', () => {
    expect(exceptionFault(2)).toEqual({
      sentence:
        'The device answered "illegal data address" (exception 2). The device has no register there; check the address, and whether its manual counts from 0 or 1.',
      code: 'MODBUS_02',
      status: 0x80340000,
    });
    expect(exceptionFault(77).sentence).toContain('which the standard does not define');
  });
  test('tell a closed port from a host that is silent', () => {
    expect(awayByNetwork('h', 1, 'ECONNREFUSED').message).toContain('refused at once');
    expect(awayByNetwork('h', 1, 'ETIMEDOUT').message).toContain('did not answer in time');
  });
});
