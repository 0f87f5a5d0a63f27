/** The test bench: simulated devices of the demo's plant, and its past. */
export { ModbusDevice } from './devices/modbus/modbusDevice.ts';
export { GatewayDevice } from './devices/modbus/gatewayDevice.ts';
export { GATEWAY, SIGNALS_UNIT } from './plant/gateway.ts';
export { BENCH_USERS, OpcUaDevice, nodeIdOf, type OpcUaOptions } from './devices/opcua/opcUaDevice.ts';
export { Ring, type Feeding, type RingSettings } from './plant/ring.ts';
export { THORNMERE_CONTROLLER } from './plant/thornmereController.ts';
export { KILNBANK } from './plant/kilnbank/controller.ts';
export { type Controller, type Variable } from './plant/variables.ts';
export { THORNMERE, THORNMERE_POINTS, type Point } from './plant/thornmere.ts';
export { archivedAt, rawAt, wireAt } from './plant/registers.ts';
export { chaptersOf, frameOf, outageMarks, pastStart, pastWatches, type Chapter } from './past/chapters.ts';
export { seedPast, tagOf } from './past/seed.ts';
export { Relay, delayByLoss, type Fault } from './relay/relay.ts';
