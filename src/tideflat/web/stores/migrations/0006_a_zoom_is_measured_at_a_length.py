"""A zoom's measured width belongs to the length it was set to; a closest focus that the magnification cannot go with is dropped.

Of a zoom both are those of its long end.
"""

from django.db import migrations, models

from tideflat.core.formats.older_rules import without_impossible_focus


def mend(apps, schema_editor):
    rows = apps.get_model("stores", "StoreLens").objects
    for row in rows.exclude(min_focus_mm=None).exclude(max_magnification=None).iterator():
        value = {
            "focal_length": row.longest_mm or row.focal_length_mm,
            "max_magnification": row.max_magnification,
            "min_focus": row.min_focus_mm,
            "measured": row.measured_distance_mm and row.measured_width_mm,
        }
        if without_impossible_focus(value)["min_focus"] is None:
            rows.filter(pk=row.pk).update(min_focus_mm=None)


class Migration(migrations.Migration):

    dependencies = [
        ('stores', '0005_an_image_is_called_one'),
    ]

    operations = [
        migrations.AddField(
            model_name='storelens',
            name='measured_at_mm',
            field=models.FloatField(blank=True, null=True),
        ),
        migrations.RunPython(mend, migrations.RunPython.noop),
    ]
