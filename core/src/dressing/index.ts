export * from './colour';
export * from './dressing';
export * from './drawing';
export * from './font-file';
export * from './image';
export * from './overlay';
export * from './webp-file';
