export { compile, compiler, compileWatch } from './compile.js';
export { compileRead, compileWrite, type HandWrite } from './compile-write.js';
