"""Acts on accounts. They are not in the history: undoing one would bring back a password or a right that was taken."""

from django.contrib.auth import password_validation
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from darre.accounts.models import Account, Role
from darre.accounts.selectors import is_open, owners
from darre.common.errors import Refusal

SECRET = "{}.{}"


def _checked(password: str, account: Account) -> str:
    try:
        password_validation.validate_password(password, account)
    except ValidationError as error:
        raise Refusal("weak_password", " ".join(error.messages), "password", 400) from None
    return password


def _refuse_taken(name: str) -> None:
    if Account.objects.filter(name=name).exists():
        raise Refusal("name_taken", f"There is an account of the name {name} already. Choose another.", "name", 409)


def first_account(name: str, password: str) -> Account:
    """The first owner of this workshop. Raises Refusal where there is an account already, or the password is weak."""
    with transaction.atomic():
        if Account.objects.exists():
            says = "There are accounts already. An owner can invite you."
            raise Refusal("not_first", says, status=409)
        account = Account(name=name, role=Role.OWNER)
        account.set_password(_checked(password, account))
        account.save()
        return account


def _secret(account: Account) -> str:
    return SECRET.format(account.pk, default_token_generator.make_token(account))


def invite(name: str, role: str) -> tuple[Account, str]:
    """An account for somebody who chooses their own password, and the secret that lets them: good for two days and
    one use. Raises Refusal where the name is taken.
    """
    with transaction.atomic():
        _refuse_taken(name)
        account = Account(name=name, role=role, invited_at=timezone.now())
        account.set_unusable_password()
        account.save()
        return account, _secret(account)


def invite_again(account: Account) -> str:
    """A new secret for somebody who forgot the password or let the invitation pass. The old password is void, and
    every device is signed out. Raises Refusal where nobody could sign in as an owner any more.
    """
    with transaction.atomic():
        account = _present(account)
        _refuse_last_owner(account)
        account.set_unusable_password()
        account.invited_at = timezone.now()
        account.save()
        return _secret(account)


def join(secret: str, password: str) -> Account:
    """Choose the password of an invited account. Raises Refusal where the invitation is spent, old or made up."""
    number, _, token = secret.partition(".")
    with transaction.atomic():
        found = Account.objects.filter(pk=int(number)).first() if number.isdecimal() and len(number) < 10 else None
        if found is None or found.joined or not default_token_generator.check_token(found, token):
            says = "This invitation was used already, or is older than two days. Ask for a new one."
            raise Refusal("no_invitation", says, status=409)
        found.set_password(_checked(password, found))
        found.invited_at = None
        found.save()
        return found


def change_password(account: Account, old: str, password: str) -> None:
    """Choose another password; other devices are signed out. Raises Refusal where the old one is wrong."""
    with transaction.atomic():
        account = _present(account)
        if not account.check_password(old):
            raise Refusal("wrong_password", "That is not your present password.", "old", 400)
        account.set_password(_checked(password, account))
        account.save()


def set_role(account: Account, role: str) -> Account:
    """Give an account another role. Raises Refusal where no owner would be left."""
    with transaction.atomic():
        account = _present(account)
        if role != Role.OWNER:
            _refuse_last_owner(account)
        account.role = role
        account.save(update_fields=["role"])
        return account


def remove_account(account: Account) -> None:
    """Take an account away: its devices are signed out at once. Raises Refusal where no owner would be left."""
    with transaction.atomic():
        account = _present(account)
        _refuse_last_owner(account)
        account.delete()


def _present(account: Account) -> Account:
    found = Account.objects.filter(pk=account.pk).first()
    if found is None:
        raise Refusal("gone", "This account was removed at the same moment.", status=409)
    return found


def _refuse_last_owner(account: Account) -> None:
    # On the machine alone nobody can be locked out: it asks for no account.
    if is_open() and account.role == Role.OWNER and account.joined and owners().count() == 1:
        says = f"{account.name} is the last owner. Make somebody else an owner first."
        raise Refusal("last_owner", says, status=409)
