"""`./comet`: the command line."""

from .cli import app

if __name__ == "__main__":
    app()
