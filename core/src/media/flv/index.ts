export * from './flv';
export * from './media-tag';
