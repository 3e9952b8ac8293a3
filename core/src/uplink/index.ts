export * from './outbox';
export * from './ranges';
export * from './line-silence';
export * from './under-way';
export * from './uplink-rate';
