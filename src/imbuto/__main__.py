"""``python -m imbuto``: the command line."""

from imbuto.cli import main

if __name__ == "__main__":
    main()
