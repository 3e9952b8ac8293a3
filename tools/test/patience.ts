// A state that is never reached is a fault at any speed; one that is reached late on a busy machine is none.
jasmine.DEFAULT_TIMEOUT_INTERVAL = 120_000;
