"""History becomes a tree: every step knows the one it was made from. What is meant goes into the document, by set-up, code and placements."""

import json
import zlib

from django.db import migrations, models

from tideflat.core.formats.older_rules import with_meant


def merged(document, accepted):
    """The document's text with what was meant in it; as it is where it cannot be read."""
    if not accepted:
        return document
    try:
        return json.dumps(with_meant(json.loads(document), accepted), ensure_ascii=False, separators=(",", ":"))
    except (ValueError, KeyError, TypeError, AttributeError):
        return document


def grow(apps, schema_editor):
    Scene, Change = apps.get_model("scenes", "Scene"), apps.get_model("scenes", "Change")
    for row in Scene.objects.only("pk", "document", "accepted").iterator(chunk_size=50):
        if row.accepted:
            Scene.objects.filter(pk=row.pk).update(document=merged(row.document, row.accepted))
    beside: dict = {}  # of each step, by scene and number: the one before it and the one after it
    for pk, number in Change.objects.order_by("scene_id", "number").values_list("scene_id", "number"):
        line = beside.setdefault(pk, {})
        last = next(reversed(line), None)
        line[number] = [last, None]
        if last is not None:
            line[last][1] = number
    for step in Change.objects.only("pk", "scene_id", "number", "state").iterator(chunk_size=50):
        parent, onward = beside[step.scene_id][step.number]
        changes = {"parent": parent, "onward": onward}
        try:
            state = json.loads(zlib.decompress(bytes(step.state)))
            changes["state"] = zlib.compress(merged(state["document"], state["accepted"]).encode(), 6)
        except (zlib.error, ValueError, KeyError, TypeError):
            pass  # a state that could not be read before cannot be read now; it stays as it is
        Change.objects.filter(pk=step.pk).update(**changes)


class Migration(migrations.Migration):

    dependencies = [
        ('scenes', '0004_one_rule_for_ids_and_sizes'),
    ]

    operations = [
        migrations.AddField('change', 'parent', models.PositiveIntegerField(null=True, help_text='number of the step this was made from; null for the beginning')),
        migrations.AddField('change', 'onward', models.PositiveIntegerField(null=True, help_text='number of the step that redo goes to')),
        migrations.AddField('change', 'code', models.CharField(max_length=40, default='', blank=True, help_text='what was done; empty: label says it')),
        migrations.AddField('change', 'figures', models.JSONField(default=dict, help_text='what its words are made of, in whatever unit they are read')),
        migrations.AddField('change', 'setup', models.CharField(max_length=120, default='', blank=True, help_text='the set-up that was looked at')),
        migrations.AlterField('change', 'label', models.CharField(max_length=200, default='', blank=True, help_text='its words, where it has no code')),
        migrations.AlterField('change', 'state', models.BinaryField(help_text='the document after it, zlib')),
        migrations.RunPython(grow, migrations.RunPython.noop),
        migrations.RemoveField('scene', 'accepted'),
    ]
