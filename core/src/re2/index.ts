import { RE2JS } from 're2js';
import { usePatterns } from '../telegram/index.js';

// Patterns are run by an engine that takes time in step with the text, whatever they are.
usePatterns((pattern) => {
  const compiled = RE2JS.compile(pattern);
  return {
    groups: compiled.groupCount(),
    find(text, group) {
      const matcher = compiled.matcher(text);
      return matcher.find() && matcher.group(group) !== null ? { from: matcher.start(group), to: matcher.end(group) } : null;
    },
  };
});
