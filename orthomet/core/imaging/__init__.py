"""Pictures from outside: loading them safely and bringing them to one plain form."""
