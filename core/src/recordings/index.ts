export * from './disk-forecast';
