export * from './zoned-time';
export * from './slot';
