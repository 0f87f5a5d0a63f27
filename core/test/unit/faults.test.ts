import {
  MODBUS_EXCEPTIONS,
  NETWORK_CODES,
  OPC_UA_FAULTS,
  explain,
  isBad,
  modbusFault,
  networkFault,
  opcUaFault,
} from '../../src/index.ts';

const PLACE = { host: 'mixer.example', port: 4840 };

/** What happened and what to do, each a sentence that ends; a status that is Bad. */
const isComplete = ({ what, advice, status }: ReturnType<typeof opcUaFault>): void => {
  expect(what).toMatch(/^\S.*[.:]$/);
  expect(advice).toMatch(/^\S.*\.$/);
  expect(isBad(status)).toBe(true);
};

test.each(NETWORK_CODES)('the network’s %s is explained', (code) => {
  isComplete(networkFault(code, PLACE));
});
test('a code of the network that nobody knows is said', () => {
  expect(explain(networkFault('EWHATEVER', PLACE))).toContain('mixer.example:4840 cannot be reached (EWHATEVER).');
});

test.each(Object.keys(MODBUS_EXCEPTIONS).map(Number))('exception %i of Modbus is explained', (code) => {
  isComplete(modbusFault(code));
  expect(explain(modbusFault(code))).toContain(`(exception ${code})`);
});
test('the exceptions are those of Modbus Application Protocol V1.1b3, section 7', () => {
  expect(Object.keys(MODBUS_EXCEPTIONS).map(Number)).toEqual([1, 2, 3, 4, 5, 6, 8, 10, 11]);
  expect(modbusFault(77).what).toContain('does not define');
});

test.each(Object.keys(OPC_UA_FAULTS).map(Number))('OPC UA’s %i is explained', (code) => {
  isComplete(opcUaFault(code * 65_536));
});
test('a status that is not explained is named', () => {
  expect(opcUaFault(0x80ff0000, 'BadSomething').what).toBe('The server answered BadSomething.');
  expect(opcUaFault(0x80ff0000).what).toBe('The server answered 0x80FF0000.');
});
