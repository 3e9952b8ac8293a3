export * from './capabilities';
export * from './destinations';
export * from './accounts';
export * from './house-rules';
