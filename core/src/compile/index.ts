export { compile, compiler, compileWatch } from './compile.js';
export { compileInquiry, compileRead, compileWrite, type HandInquiry, type HandWrite } from './compile-write.js';
