"""The tables as they are after 0005, made at once: what a new copy begins with."""

import django.contrib.auth.models
import django.contrib.auth.validators
import django.db.models.deletion
import django.utils.timezone
import uuid
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    replaces = [
        ("accounts", "0001_initial"),
        ("accounts", "0002_user_language"),
        ("accounts", "0003_sign_ins"),
        ("accounts", "0004_what_was_allowed"),
        ("accounts", "0005_tokens"),
    ]

    dependencies = [
        ("auth", "0012_alter_user_first_name_max_length"),
    ]

    operations = [
        migrations.CreateModel(
            name="User",
            fields=[
                ("password", models.CharField(max_length=128, verbose_name="password")),
                ("last_login", models.DateTimeField(blank=True, null=True, verbose_name="last login")),
                (
                    "is_superuser",
                    models.BooleanField(
                        default=False,
                        help_text="Designates that this user has all permissions without explicitly assigning them.",
                        verbose_name="superuser status",
                    ),
                ),
                (
                    "username",
                    models.CharField(
                        error_messages={"unique": "A user with that username already exists."},
                        help_text="Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.",
                        max_length=150,
                        unique=True,
                        validators=[django.contrib.auth.validators.UnicodeUsernameValidator()],
                        verbose_name="username",
                    ),
                ),
                ("first_name", models.CharField(blank=True, max_length=150, verbose_name="first name")),
                ("last_name", models.CharField(blank=True, max_length=150, verbose_name="last name")),
                ("email", models.EmailField(blank=True, max_length=254, verbose_name="email address")),
                (
                    "is_staff",
                    models.BooleanField(
                        default=False,
                        help_text="Designates whether the user can log into this admin site.",
                        verbose_name="staff status",
                    ),
                ),
                (
                    "is_active",
                    models.BooleanField(
                        default=True,
                        help_text="Designates whether this user should be treated as active. Unselect this instead of deleting accounts.",
                        verbose_name="active",
                    ),
                ),
                ("date_joined", models.DateTimeField(default=django.utils.timezone.now, verbose_name="date joined")),
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                (
                    "role",
                    models.CharField(
                        choices=[
                            ("technician", "Technician"),
                            ("checker", "Checker"),
                            ("administrator", "Administrator"),
                        ],
                        default="technician",
                        max_length=20,
                    ),
                ),
                ("display_name", models.CharField(blank=True, max_length=120)),
                (
                    "keeps_sites",
                    models.BooleanField(
                        default=False, help_text="makes sites, changes their supply, says who works there"
                    ),
                ),
                ("keeps_shelf", models.BooleanField(default=False, help_text="changes parts of the shelf")),
                (
                    "must_change",
                    models.BooleanField(default=False, help_text="the password was given by somebody else"),
                ),
                ("version", models.PositiveIntegerField(default=1)),
                (
                    "language",
                    models.CharField(
                        blank=True,
                        choices=[("en", "English"), ("de", "Deutsch")],
                        help_text="blank: what the browser asks for",
                        max_length=10,
                    ),
                ),
                (
                    "groups",
                    models.ManyToManyField(
                        blank=True,
                        help_text="The groups this user belongs to. A user will get all permissions granted to each of their groups.",
                        related_name="user_set",
                        related_query_name="user",
                        to="auth.group",
                        verbose_name="groups",
                    ),
                ),
                (
                    "user_permissions",
                    models.ManyToManyField(
                        blank=True,
                        help_text="Specific permissions for this user.",
                        related_name="user_set",
                        related_query_name="user",
                        to="auth.permission",
                        verbose_name="user permissions",
                    ),
                ),
            ],
            options={
                "verbose_name": "user",
                "verbose_name_plural": "users",
                "abstract": False,
            },
            managers=[
                ("objects", django.contrib.auth.models.UserManager()),
            ],
        ),
        migrations.CreateModel(
            name="SignIn",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("session_key", models.CharField(db_index=True, max_length=40)),
                ("device", models.CharField(blank=True, help_text="as its browser describes it", max_length=200)),
                (
                    "is_shared",
                    models.BooleanField(default=False, help_text="a device of several people: ends when idle"),
                ),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("last_seen_at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
                (
                    "person",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="sign_ins",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ("-at", "id"),
            },
        ),
        migrations.CreateModel(
            name="Token",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                (
                    "scope",
                    models.CharField(
                        choices=[("read", "read and judge"), ("write", "read, judge, and enter loops and parts")],
                        max_length=10,
                    ),
                ),
                ("start", models.CharField(help_text="of the token, to tell it from others", max_length=16)),
                ("digest", models.CharField(help_text="SHA-256 of the token", max_length=64, unique=True)),
                ("ends_at", models.DateTimeField()),
                ("ended_at", models.DateTimeField(null=True)),
                ("last_used_at", models.DateTimeField(null=True)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "account",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT, related_name="token", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ("-at", "id"),
            },
        ),
    ]
