export * from './pending-connections';
