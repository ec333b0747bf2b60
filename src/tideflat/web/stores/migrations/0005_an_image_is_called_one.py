from django.db import migrations


class Migration(migrations.Migration):
    """A picture is one set-up, computed; what the stores keep of a photograph is an image."""

    dependencies = [("stores", "0004_lens_further"), ("scenes", "0005_history_is_a_tree")]

    operations = [migrations.RenameModel("StorePicture", "StoreImage")]
