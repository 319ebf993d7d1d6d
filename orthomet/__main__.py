"""``python -m orthomet`` is the ``orthomet`` command."""

from .cli import main

raise SystemExit(main())
