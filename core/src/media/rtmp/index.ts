export * from './address';
export * from './amf0';
export * from './chunks';
export * from './handshake';
export * from './publisher';
export * from './receiver';
