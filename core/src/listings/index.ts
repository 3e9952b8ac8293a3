export * from './embed-code';
export * from './count-text';
export * from './inherit';
export * from './placeholders';
export * from './settings';
export * from './presented';
export * from './picture';
export * from './table';
