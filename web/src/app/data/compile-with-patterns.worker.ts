/// <reference lib="webworker" />
import '@plain-envoy/core/formula';
import '@plain-envoy/core/re2';
import { compileOnDemand } from './compiling';

compileOnDemand();
