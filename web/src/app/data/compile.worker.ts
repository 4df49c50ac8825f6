/// <reference lib="webworker" />
import { compileOnDemand } from './compiling';

compileOnDemand();
