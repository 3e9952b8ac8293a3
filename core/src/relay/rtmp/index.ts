export * from './amf0';
export * from './chunks';
