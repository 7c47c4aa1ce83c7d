"""`python -m yearning.cli`."""

from yearning.cli import main

if __name__ == "__main__":
    main()
