/** Most keywords whose domain names the registry is asked for at once. */
export const mostPhrases = 20
