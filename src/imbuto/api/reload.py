"""The application on the demo homes, for ``make dev``: uvicorn reloads it by name."""

from pathlib import Path

from imbuto.api.app import create_app
from imbuto.services.desk.demo import open_demo

app = create_app(open_demo(Path(".demo")))
