from django.db import migrations, models
from quillcore.signing.record_check import keyed
from quillcore.signing.trail import ChainLink

REFUSED = "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'what happened is not rewritten'"
NO_UPDATE = f"CREATE TRIGGER signing_happening_stands BEFORE UPDATE ON signing_happening FOR EACH ROW {REFUSED}"
NO_DELETE = f"CREATE TRIGGER signing_happening_stays BEFORE DELETE ON signing_happening FOR EACH ROW {REFUSED}"


def key_links(apps, schema_editor):
    """Give the links of before their keyed hashes."""
    from goodquill.signing.kept import record_key

    Happening = apps.get_model("signing", "Happening")
    for row in Happening.objects.order_by("pk").iterator():
        link = ChainLink(row.number, row.at, row.kind, row.who, row.said, row.before, row.hash)
        Happening.objects.filter(pk=row.pk).update(keyed=keyed(record_key(), str(row.round_id), link))


class Migration(migrations.Migration):

    dependencies = [
        ("signing", "0003_by_pen"),
    ]

    operations = [
        migrations.AddField("round", "checked", models.DateTimeField(null=True)),
        migrations.AddField("round", "doubt", models.CharField(blank=True, max_length=500)),
        migrations.AddIndex("round", models.Index(fields=["checked"], name="signing_rou_checked_219c06_idx")),
        migrations.AddField("happening", "keyed", models.CharField(max_length=64, default=""), preserve_default=False),
        migrations.RunSQL("DROP TRIGGER signing_happening_stands", NO_UPDATE),
        migrations.RunPython(key_links, migrations.RunPython.noop),
        migrations.RunSQL(NO_UPDATE, "DROP TRIGGER signing_happening_stands"),
        migrations.RunSQL(NO_DELETE, "DROP TRIGGER signing_happening_stays"),
    ]
