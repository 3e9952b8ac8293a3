export * from './alarms';
export * from './feed-machine';
export * from './feed-outlook';
export * from './feed-queue';
