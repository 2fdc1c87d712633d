/** The address that somebody is sent: the secret stands behind the “#”, which browsers keep to themselves. */
export const joinLink = (secret: string): string => `${location.origin}/join#${secret}`;
