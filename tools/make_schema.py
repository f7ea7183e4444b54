"""Write docs/project.schema.json, the JSON Schema of project.json."""

import json
from pathlib import Path

from ochre_stone.core.document.document import Document

if __name__ == "__main__":
    path = Path(__file__).parents[1] / "docs" / "project.schema.json"
    path.write_text(json.dumps(Document.model_json_schema(), indent=1) + "\n", encoding="utf-8")
    print(path)
