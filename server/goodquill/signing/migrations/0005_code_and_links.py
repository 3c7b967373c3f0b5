from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("signing", "0004_record"),
    ]

    operations = [
        migrations.AlterField("round", "code", models.BooleanField(default=True)),
        migrations.AddField("signer", "renewed", models.DateTimeField(null=True)),
    ]
