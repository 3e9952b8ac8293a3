export * from './frame-pace';
export * from './layout';
export * from './silence';
export * from './sound-queue';
export * from './step-down';
export * from './test-pattern';
export * from './wrap';
