/** Features in the order in which they may need each other: each only those before it. */
module.exports.FEATURES = ['shelf', 'study', 'mount', 'run', 'live', 'results', 'ranking', 'report', 'exchange', 'tools', 'bench'];
