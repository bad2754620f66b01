"""Accounts: who may come in when others are let in too. They are no part of the history, nor undone with it."""

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.db import models

LONGEST_NAME = 60


class Role(models.TextChoices):
    """What an account may do; each may do what those before it may."""

    GUEST = "guest", "guest"
    MEMBER = "member", "member"
    OWNER = "owner", "owner"


class Account(AbstractBaseUser):
    """A person who signs in. Until they have chosen a password they are invited only."""

    name = models.CharField(max_length=LONGEST_NAME, unique=True, db_collation="NOCASE")
    role = models.CharField(max_length=10, choices=Role.choices)
    is_active = models.BooleanField(default=True)
    made_at = models.DateTimeField(auto_now_add=True)
    invited_at = models.DateTimeField(null=True, blank=True)

    objects = BaseUserManager()
    USERNAME_FIELD = "name"

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def joined(self) -> bool:
        """Whether they can sign in: an owner who put the password back must be waited for."""
        return self.has_usable_password()


class ScriptToken(models.Model):
    """Lets a program ask as an account does, where people sign in. Only a hash of what it sends is stored."""

    account = models.ForeignKey(Account, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=LONGEST_NAME)
    token_hash = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name
