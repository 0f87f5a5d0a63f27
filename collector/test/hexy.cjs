/** In the place of a package that the test runner cannot load: the protocol's library prints bytes with it, in its own debugging only. */
module.exports = { hexy: () => '' };
