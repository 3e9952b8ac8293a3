export * from './zoned-time';
