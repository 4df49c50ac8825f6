export { failureText } from './failure-text.js';
export { ask, type Ask, type OnTry, type RequestResult } from './client.js';
export { inquire, type Inquire, type InquiryResult } from './inquire.js';
