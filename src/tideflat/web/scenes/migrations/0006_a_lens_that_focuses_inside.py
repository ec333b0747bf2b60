"""The closest focus and the largest magnification of a lens must go together: in scenes, and in every step of their history."""

import json
import zlib

from django.db import migrations

from tideflat.core.formats.older_rules import focusing_mended


def mended(document):
    """The document's text under the rule; None where nothing is to be changed, or it cannot be read at all."""
    try:
        value = json.loads(document)
        new = focusing_mended(value)
    except (ValueError, KeyError, TypeError, AttributeError):
        return None
    return None if new == value else json.dumps(new, ensure_ascii=False, separators=(",", ":"))


def mend(apps, schema_editor):
    Scene, Change = apps.get_model("scenes", "Scene"), apps.get_model("scenes", "Change")
    for row in Scene.objects.only("pk", "document").iterator(chunk_size=50):
        if (new := mended(row.document)) is not None:
            Scene.objects.filter(pk=row.pk).update(document=new)
    for step in Change.objects.only("pk", "state").iterator(chunk_size=50):
        try:
            new = mended(zlib.decompress(bytes(step.state)).decode())
        except (zlib.error, ValueError):
            continue
        if new is not None:
            Change.objects.filter(pk=step.pk).update(state=zlib.compress(new.encode(), 6))


class Migration(migrations.Migration):

    dependencies = [
        ('scenes', '0005_history_is_a_tree'),
    ]

    operations = [migrations.RunPython(mend, migrations.RunPython.noop)]
