/** The collector: what tests may use of it. */
export { Collector } from './collector.ts';
export { readSettings, type Settings } from './settings.ts';
export { ModbusDriver } from './modbus/modbusDriver.ts';
export { NotOffered, SourceAway, type Driver } from './driver/driver.ts';
export { NO_REFUSALS, planRequests } from './modbus/requests.ts';
export { exceptionFault, awayFault } from './modbus/faults.ts';
export { Spool } from './spool/spool.ts';
export { Beats, isOnBeat } from './scan/beats.ts';
export { Clock } from './scan/clock.ts';
export { Pace } from './scan/pace.ts';
export { SourceWatcher } from './scan/sourceWatcher.ts';
export { Delivery } from './delivery/delivery.ts';
export { MOST_SAMPLES, MOST_SPANS, partsOf } from './delivery/parts.ts';
export { ServerRefused } from './delivery/serverCalls.ts';
export { Gathering } from './scan/gathering.ts';
