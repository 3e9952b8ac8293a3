export * from './colour';
export * from './dressing';
export * from './drawing';
