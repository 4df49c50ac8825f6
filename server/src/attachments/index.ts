export { Attachments, MAX_ATTACHMENT } from './attachments.js';
