export * from './export-chat';
export * from './merge';
export * from './show-time';
export * from './fold';
export * from './reading-time';
export * from './rules';
