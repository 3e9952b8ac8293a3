export * from './colour';
export * from './dressing';
export * from './drawing';
export * from './font-file';
