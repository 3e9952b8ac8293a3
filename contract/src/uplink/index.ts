export * from './uplink';
