// Hashing a password takes long on purpose, and longer on a machine that is busy with something else.
jasmine.DEFAULT_TIMEOUT_INTERVAL = 30_000;
