export * from './export-chat';
export * from './merge';
export * from './show-time';
