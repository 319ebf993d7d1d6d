"""The campaigns that look for crashes, lost work and waits: ``make soak``. Every case follows from one number."""
