from django.db import migrations


def renamed(content):
    """A template's content with its tasks under their name; unchanged where it has none."""
    if "duties" not in content:
        return content
    return {key: value for key, value in content.items() if key != "duties"} | {"tasks": content["duties"]}


def rename(apps, _editor):
    """Give the tasks of all templates, their drafts and versions their new name."""
    for model, fields in (("Template", ("data", "draft", "base")), ("TemplateVersion", ("data",))):
        rows = apps.get_model("templates", model).objects
        for row in rows.iterator(chunk_size=500):
            new = {field: renamed(getattr(row, field)) for field in fields}
            if any(new[field] != getattr(row, field) for field in fields):
                rows.filter(pk=row.pk).update(**new)


class Migration(migrations.Migration):

    dependencies = [
        ("templates", "0001_initial"),
    ]

    operations = [
        migrations.RunPython(rename, migrations.RunPython.noop),
    ]
