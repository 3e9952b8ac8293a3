export * from './outbox';
export * from './ranges';
export * from './under-way';
export * from './uplink-rate';
