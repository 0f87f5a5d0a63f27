/** The collector: what tests may use of it. */
export { Collector } from './collector.ts';
export { readSettings, type Settings } from './settings.ts';
export { ModbusDriver } from './modbus/modbusDriver.ts';
export { NotOffered, SourceAway, type Driver } from './driver/driver.ts';
export { planRequests } from './modbus/requests.ts';
export { exceptionFault, awayFault } from './modbus/faults.ts';
export { Spool } from './spool/spool.ts';
export { Pace } from './scan/pace.ts';
export { Gathering } from './scan/gathering.ts';
