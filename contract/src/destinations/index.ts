export * from './capabilities';
export * from './destinations';
export * from './accounts';
