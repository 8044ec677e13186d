"""Run the command line as `python -m kyklos`."""

from .cli import main

if __name__ == "__main__":
    main()
