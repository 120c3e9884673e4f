"""A house has no time zone of its own any more: what was named for its programs is the site's, where that has none."""

from django.db import migrations


def to_the_site(apps, schema_editor):
    """Take it over, and out of the document."""
    for house in apps.get_model("setup", "House").objects.select_related("site"):
        zone = house.document.pop("zone", None)
        if zone and not house.site.zone:
            house.site.zone = zone
            house.site.save(update_fields=("zone",))
        house.save(update_fields=("document",))


class Migration(migrations.Migration):
    dependencies = [("setup", "0001_radio_joining_programs"), ("sites", "0006_zone")]
    operations = [migrations.RunPython(to_the_site, migrations.RunPython.noop)]
