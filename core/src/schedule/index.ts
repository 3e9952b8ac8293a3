export * from './zoned-time';
export * from './slot';
export * from './recurrence';
