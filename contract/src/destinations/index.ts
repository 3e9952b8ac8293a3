export * from './capabilities';
export * from './destinations';
export * from './accounts';
export * from './house-rules';
export * from './named-routes';
export * from './lines';
