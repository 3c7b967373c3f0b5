import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("deals", "0005_spots"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RenameModel("Duty", "Task"),
        migrations.AlterField(
            "task",
            "deal",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="tasks", to="deals.deal"),
        ),
    ]
