"""Ids are ASCII letters, digits, _ and -, and sizes lie between 0.1 mm and 20 m: every scene, and every step of its history, is brought under the rule."""

import json
import zlib

from django.db import migrations

from tideflat.core.formats.older_rules import mended_document


def mended(document, accepted):
    """(document, accepted) as text and list under the rule; None where nothing is to be changed or it cannot be read at all."""
    try:
        value = json.loads(document)
        new_value, new_accepted = mended_document(value, accepted)
    except (ValueError, KeyError, TypeError, AttributeError):
        return None
    if new_value == value and new_accepted == accepted:
        return None
    return json.dumps(new_value, ensure_ascii=False, separators=(",", ":")), new_accepted


def mend(apps, schema_editor):
    for row in apps.get_model("scenes", "Scene").objects.only("pk", "document", "accepted").iterator(chunk_size=50):
        new = mended(row.document, row.accepted)
        if new is not None:
            apps.get_model("scenes", "Scene").objects.filter(pk=row.pk).update(document=new[0], accepted=new[1])
    for step in apps.get_model("scenes", "Change").objects.only("pk", "state").iterator(chunk_size=50):
        try:
            state = json.loads(zlib.decompress(bytes(step.state)))
            new = mended(state["document"], state["accepted"])
        except (zlib.error, ValueError, KeyError, TypeError):
            continue
        if new is not None:
            packed = zlib.compress(json.dumps({"document": new[0], "accepted": new[1]}).encode(), 6)
            apps.get_model("scenes", "Change").objects.filter(pk=step.pk).update(state=packed)


class Migration(migrations.Migration):

    dependencies = [
        ('scenes', '0003_photographs_and_palette'),
    ]

    operations = [migrations.RunPython(mend, migrations.RunPython.noop)]
