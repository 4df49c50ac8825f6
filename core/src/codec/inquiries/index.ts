export { type Fact, textBytes, type Told, twoBytes } from './inquiry.js';
export { type AnyInquiry, inquiries, InquiryAsk, inquiryOf, inquirySchema } from './list.js';
export { DIAGNOSTICS, diagnosticNames, echoRequest } from './diagnostics.js';
export { identityLevels, MEI_IDENTIFICATION, READ_DEVICE_IDENTIFICATION } from './identification.js';
export { REPORT_SERVER_ID, serverIdAnswer } from './server-id.js';
export { MAX_QUEUED } from './fifo.js';
